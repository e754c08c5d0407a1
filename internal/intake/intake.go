// Package intake turns the bytes of an upload into a picture to keep: upright,
// re-encoded without metadata, with its previews.
package intake

import (
	"bytes"
	"crypto/sha256"
	"image"
	"image/jpeg"
	"image/png"
	"path/filepath"
	"strings"
	"sync"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/store"
)

// Pixels of the longer side of what is kept for the screen and for lists.
const (
	viewSide  = 1600
	thumbSide = 320
)

// mostPNG is the size past which a PNG, surely a photograph, is kept as JPEG.
const mostPNG = 12 << 20

// decoding bounds how many large pictures are in memory at once.
var decoding = make(chan struct{}, 2)

// Use decodes a picture and has it worked on, while no more than a few others
// are in memory. Errors are those of picture.Decode and of the work.
func Use(b []byte, work func(*image.RGBA) error) error {
	decoding <- struct{}{}
	defer func() { <-decoding }()
	img, err := picture.Decode(b)
	if err != nil {
		return err
	}
	return work(img)
}

// Take decodes a picture, measures it, and returns it with the files to keep. Errors
// are those of picture.Decode.
func Take(filename string, b []byte, purpose store.Purpose) (p store.Picture, files []store.PictureFile, err error) {
	err = Use(b, func(img *image.RGBA) error {
		p, files = Keep(filename, img, bytes.HasPrefix(b, []byte("\x89PNG")), purpose)
		return nil
	})
	return p, files, err
}

// Keep returns a decoded picture with the files to keep; as PNG it is kept
// where that is not too large.
func Keep(filename string, img *image.RGBA, asPNG bool, purpose store.Purpose) (store.Picture, []store.PictureFile) {
	files := []store.PictureFile{{Role: store.Full}, {Role: store.View}, {Role: store.Thumb}}
	var facts picture.Facts
	var both sync.WaitGroup
	both.Go(func() { files[0] = encode(store.Full, img, asPNG) })
	both.Go(func() {
		view := picture.Shrink(img, viewSide)
		files[1] = encode(store.View, view, asPNG && view == img)
		files[2] = encode(store.Thumb, picture.Shrink(view, thumbSide), false)
		facts = picture.Look(img, view)
	})
	both.Wait()
	hash := sha256.Sum256(files[0].Bytes)
	return store.Picture{
		Name: Name(filename), Width: img.Rect.Dx(), Height: img.Rect.Dy(),
		Size: int64(len(files[0].Bytes)), Hash: hash[:], Purpose: purpose, Facts: &facts,
	}, files
}

func encode(role store.Role, img *image.RGBA, asPNG bool) store.PictureFile {
	var out bytes.Buffer
	if asPNG {
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
