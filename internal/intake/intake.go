// Package intake turns the bytes of an upload into a picture to keep: without
// metadata, with its previews.
package intake

import (
	"bytes"
	"context"
	"crypto/sha256"
	"image"
	"image/jpeg"
	"image/png"
	"path/filepath"
	"strings"
	"sync"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/store"

	"golang.org/x/sync/semaphore"
)

// Pixels of the longer side of what is kept for the screen and for lists.
const (
	viewSide  = 1600
	thumbSide = 320
)

// asPNG begins a PNG.
const asPNG = "\x89PNG"

// mostPNG is the size past which a PNG, surely a photograph, is kept as JPEG.
const mostPNG = 12 << 20

// Every picture passes a door to be decoded, sized by what it will use: several
// small ones at once, one large one alone. What was kept for the screen has a
// door of its own, for it is also looked at while a large one is worked on.
var (
	large = semaphore.NewWeighted(picture.MostCost)
	small = semaphore.NewWeighted(mostSmall)
	apart = semaphore.NewWeighted(1) // a process apart has what it begins with besides
)

const mostSmall = 48 << 20

// Use decodes a picture that was kept and has it worked on, while all that are in memory
// together stay within what the server may use. work must not call Use. Errors
// are those of picture.Decode, of the work, and of a context that ends while it waits.
func Use(ctx context.Context, b []byte, work func(*image.RGBA) error) error {
	return through(ctx, large, picture.MostCost, b, work)
}

// Small returns a picture that was kept as large as the screen shows it, its
// longer side at most side pixels. Errors are those of Use.
func Small(ctx context.Context, b []byte, side int) (out *image.RGBA, err error) {
	err = through(ctx, small, mostSmall, b, func(img *image.RGBA) error {
		out = picture.Shrink(img, side)
		return nil
	})
	return out, err
}

func through(ctx context.Context, door *semaphore.Weighted, most int64, b []byte, work func(*image.RGBA) error) error {
	return past(ctx, door, most, b, func() error {
		img, err := picture.Decode(b)
		if err != nil {
			return err
		}
		return work(img)
	})
}

// past has something done with a picture once it has passed the door.
func past(ctx context.Context, door *semaphore.Weighted, most int64, b []byte, do func() error) error {
	use, err := picture.Cost(b)
	if err != nil {
		return err
	}
	use = min(use, most)
	if err := door.Acquire(ctx, use); err != nil {
		return err
	}
	defer door.Release(use)
	return do()
}

// Take decodes a picture that was just sent, measures it, and returns it with the files to
// keep; of a PDF that is to be drawn from, its first page. Errors are those of Use.
func Take(ctx context.Context, filename string, b []byte, purpose store.Purpose) (p store.Picture, files []store.PictureFile, err error) {
	if len(Apart) == 0 {
		return takeHere(ctx, filename, b, purpose)
	}
	if _, err := picture.Cost(b); err != nil && !hasPages(b, purpose) {
		return p, nil, err
	}
	if err := apart.Acquire(ctx, 1); err != nil {
		return p, nil, err
	}
	defer apart.Release(1)
	return takeApart(ctx, filename, b, purpose)
}

// Sane returns a picture that was just sent as it would be kept: it opens in no more than
// the time that a picture takes. Errors are those of Use.
func Sane(ctx context.Context, b []byte) ([]byte, error) {
	_, files, err := Take(ctx, "", b, store.ForCheckIn)
	if err != nil {
		return nil, err
	}
	return files[0].Bytes, nil
}

func takeHere(ctx context.Context, filename string, b []byte, purpose store.Purpose) (p store.Picture, files []store.PictureFile, err error) {
	if hasPages(b, purpose) {
		page, err := firstPage(ctx, b)
		if err != nil {
			return p, nil, err
		}
		p, files = Keep(filename, page, []byte(asPNG), purpose)
		return p, files, nil
	}
	err = Use(ctx, b, func(img *image.RGBA) error {
		p, files = Keep(filename, img, b, purpose)
		return nil
	})
	return p, files, err
}

// Keep returns a picture, decoded from b, with the files to keep; a PNG is kept
// as one where that is not too large, and a JPEG without its metadata as it came:
// of one that lies on its side, which only photos may, everything that reads it looks
// which way is up. A very large one is kept as it was shrunk.
func Keep(filename string, img *image.RGBA, b []byte, purpose store.Purpose) (store.Picture, []store.PictureFile) {
	sharp := bytes.HasPrefix(b, []byte(asPNG))
	files := []store.PictureFile{{Role: store.Full}, {Role: store.View}, {Role: store.Thumb}}
	var facts picture.Facts
	var both sync.WaitGroup
	both.Go(func() {
		if bare, turn, ok := picture.Bare(b); ok && (turn == 1 || purpose == store.ForCheckIn) && !picture.Shrunk(b) {
			files[0] = store.PictureFile{Role: store.Full, Kind: "image/jpeg", Bytes: bare}
			return
		}
		files[0] = encode(store.Full, img, sharp)
	})
	both.Go(func() {
		view := picture.Shrink(img, viewSide)
		files[1] = encode(store.View, view, sharp && view == img)
		files[2] = encode(store.Thumb, picture.Shrink(view, thumbSide), false)
		facts = picture.Look(img, view)
	})
	both.Wait()
	facts.Cut = picture.Cut(b)
	hash := sha256.Sum256(files[0].Bytes)
	return store.Picture{
		Name: Name(filename), Width: img.Rect.Dx(), Height: img.Rect.Dy(),
		Size: int64(len(files[0].Bytes)), Hash: hash[:], Purpose: purpose, Facts: &facts,
	}, files
}

func encode(role store.Role, img *image.RGBA, sharp bool) store.PictureFile {
	var out bytes.Buffer
	if sharp {
		(&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&out, img) // to memory: cannot fail
		if out.Len() <= mostPNG {
			return store.PictureFile{Role: role, Kind: "image/png", Bytes: out.Bytes()}
		}
		out.Reset()
	}
	jpeg.Encode(&out, img, &jpeg.Options{Quality: 90})
	return store.PictureFile{Role: role, Kind: "image/jpeg", Bytes: out.Bytes()}
}

// Name returns a file's name without folders and ending, 60 letters at most.
func Name(filename string) string {
	name := filepath.Base(strings.ReplaceAll(filename, `\`, "/"))
	name = strings.TrimSpace(strings.TrimSuffix(name, filepath.Ext(name)))
	if r := []rune(name); len(r) > 60 {
		name = string(r[:60])
	}
	if name == "" || name == "." || name == "/" {
		return "picture"
	}
	return strings.ToValidUTF8(name, "")
}
