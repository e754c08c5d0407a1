package intake

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"os"
	"path/filepath"
	"time"

	"github.com/klippa-app/go-pdfium/requests"
	"github.com/klippa-app/go-pdfium/webassembly"
	"github.com/tetratelabs/wazero"
	"github.com/tetratelabs/wazero/api"
	"github.com/tetratelabs/wazero/experimental"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/store"
)

// hasPages reports whether a file is a PDF, by what it says within its first kilobyte as readers allow, of which a
// page may be drawn from; photos of drawings are none.
func hasPages(b []byte, purpose store.Purpose) bool {
	return purpose == store.ForReference && bytes.Contains(b[:min(len(b), 1024)], []byte("%PDF-"))
}

// A page is drawn with so many pixels on its longer side, by a program that may use so many pages of 64 kB,
// 160 MB (ours: a scanned page of 300 dots an inch takes 60).
const pdfSide, pdfMemory = 2600, 2500

// firstPage draws a PDF's first page. The reader runs as WebAssembly: whatever a file makes of it stays in
// there. Its compiled form is kept for the next time where this program may keep anything.
func firstPage(ctx context.Context, b []byte) (img *image.RGBA, err error) {
	conf := wazero.NewRuntimeConfig().WithMemoryLimitPages(pdfMemory).WithCloseOnContextDone(true).
		WithCoreFeatures(api.CoreFeaturesV2 | experimental.CoreFeaturesExceptionHandling)
	if cache, err := wazero.NewCompilationCacheWithDir(compiled()); err == nil {
		defer cache.Close(ctx)
		conf = conf.WithCompilationCache(cache)
	}
	pool, err := webassembly.Init(webassembly.Config{Context: ctx, MaxIdle: 1, MaxTotal: 1, RuntimeConfig: conf})
	if err != nil {
		return nil, fmt.Errorf("starting the reader of PDFs: %w", err)
	}
	defer pool.Close()
	reader, err := pool.GetInstance(time.Minute)
	if err != nil {
		return nil, fmt.Errorf("starting the reader of PDFs: %w", err)
	}
	doc, err := reader.OpenDocument(&requests.OpenDocument{File: &b})
	if err != nil {
		return nil, unreadable(ctx, err)
	}
	first := requests.Page{ByIndex: &requests.PageByIndex{Document: doc.Document}}
	size, err := reader.GetPageSize(&requests.GetPageSize{Page: first})
	if err != nil {
		return nil, unreadable(ctx, err)
	}
	ask := requests.RenderPageInPixels{Page: first, Width: pdfSide}
	if size.Height > size.Width {
		ask.Width, ask.Height = 0, pdfSide
	}
	page, err := reader.RenderPageInPixels(&ask)
	if err != nil {
		return nil, unreadable(ctx, err)
	}
	defer page.Cleanup()
	return picture.OnWhite(page.Result.RenderedImage), nil
}

// unreadable is what is said of a file that the reader gave up.
func unreadable(ctx context.Context, err error) error {
	if ctx.Err() != nil {
		return ctx.Err()
	}
	return fmt.Errorf("%w (%.80s)", picture.ErrPage, err)
}

// compiled is the folder for what may be made anew: the service's own, or the person's.
func compiled() string {
	dir := os.Getenv("CACHE_DIRECTORY")
	if dir == "" {
		var err error
		if dir, err = os.UserCacheDir(); err != nil {
			dir = os.TempDir()
		}
		dir = filepath.Join(dir, "zesty-sketch")
	}
	return dir
}
