//go:build !js

// Package picture takes in pictures and changes their pixels: decoding,
// turning upright, shrinking, and rectifying a photographed sheet.
//
// Pixels in, pixels out: it reads bytes and returns images, and knows neither
// files nor plans. Every picture becomes an *image.RGBA on white with its top
// left corner at (0, 0), so that there is one kind of picture after the door.
package picture

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	_ "image/gif" // the formats of drawings, cameras, scanners, pages and phones
	_ "image/jpeg"
	_ "image/png"
	"io"
	"math"
	"slices"

	_ "github.com/gen2brain/heic"
	_ "golang.org/x/image/tiff"
	_ "golang.org/x/image/webp"
)

// Errors of Decode, each with a message for the person who chose the file.
var (
	ErrEmpty     = errors.New("the file is empty; choose it again, or export the picture once more")
	ErrKind      = errors.New("this is not a picture we can read; save it as JPEG, PNG, GIF, WebP, TIFF or HEIC and try again")
	ErrDamaged   = errors.New("the picture is damaged or cut off; copy it again from the camera")
	ErrTooLarge  = fmt.Errorf("the picture has too many pixels; make it smaller than %d megapixels", MaxPixels/1_000_000)
	ErrTooHeavy  = errors.New("the picture takes too much room to open; save it as an ordinary JPEG, or smaller")
	ErrPage      = errors.New("the PDF's first page cannot be drawn; save it without a password, or as a picture")
	ErrTooNarrow = errors.New("the picture is a thin strip; choose one at least 16 pixels wide and high")
)

// Reasons are the errors that are of the file itself.
var Reasons = []error{ErrEmpty, ErrKind, ErrDamaged, ErrTooLarge, ErrTooHeavy, ErrTooNarrow, ErrPage}

// Unreadable reports whether an error is of the file itself, for the person who
// chose it to mend.
func Unreadable(err error) bool {
	return slices.ContainsFunc(Reasons, func(e error) bool { return errors.Is(err, e) })
}

// MaxPixels bounds what is decoded as it is: a progressive JPEG of this size stays
// under the 400 MB that the server may use.
const MaxPixels = 40_000_000

// MaxBytes bounds what is read at all.
const MaxBytes = 40 << 20

// Decode returns the picture in b upright, as the camera's orientation says,
// on white. Its size is bounded before any pixel is decoded, and a very large photo is shrunk. A JPEG that lacks
// its last bytes is taken as far as it goes: they say no more than that it ends.
func Decode(b []byte) (*image.RGBA, error) {
	size, format, err := measured(b)
	if err != nil {
		return nil, err
	}
	img, _, err := image.Decode(bytes.NewReader(b))
	if err != nil && format == "jpeg" {
		img, _, err = image.Decode(io.MultiReader(bytes.NewReader(b), bytes.NewReader(endOfJPEG)))
	}
	if err != nil {
		return nil, unreadable(err)
	}
	if format == "webp" {
		img = videoRange(img)
	}
	if k := shrunkBy(b, size, format); k > 1 {
		img = reduced(img, k)
	}
	return upright(img, orientation(b, format)), nil
}

// endOfJPEG is the marker with which every JPEG ends (ITU-T T.81, B.1.1.3).
var endOfJPEG = []byte{0xff, 0xd9}

// Cut reports whether a JPEG's file lacks its end.
func Cut(b []byte) bool {
	return bytes.HasPrefix(b, []byte{0xff, 0xd8}) && !bytes.Contains(b[max(0, len(b)-64):], endOfJPEG)
}

// unreadable says what a decoder's error means for whoever chose the file.
func unreadable(err error) error {
	if errors.Is(err, image.ErrFormat) {
		return ErrKind
	}
	return ErrDamaged
}

// fits says what of a picture's size cannot be.
func fits(b []byte, size image.Config, format string) error {
	switch {
	case size.Width < minSide || size.Height < minSide:
		return ErrTooNarrow
	case size.Width > MaxPixels/size.Height && shrunkBy(b, size, format) == 1:
		return fmt.Errorf("%w; this one has %d", ErrTooLarge, megapixels(size))
	}
	if n := scans(b, format); n > usualScans && n > mostScanned/(size.Width*size.Height) {
		return fmt.Errorf("%w: it lies in the file %d times over", ErrTooHeavy, n)
	}
	if use := cost(b, size, format); use > MostCost {
		return fmt.Errorf("%w: saved this way it has %d megapixels, and at most %d can be opened", ErrTooHeavy, megapixels(size), int64(megapixels(size))*MostCost/use)
	}
	return nil
}

func megapixels(c image.Config) int {
	return int(math.Round(float64(c.Width) * float64(c.Height) / 1e6))
}

// videoRange spreads the colours of a lossy WebP: VP8 keeps lightness from 16
// to 235 (RFC 6386, 9.2; ITU-R BT.601), which image.YCbCr takes for 0 to 255.
func videoRange(img image.Image) image.Image {
	src, ok := img.(*image.YCbCr)
	if alpha, with := img.(*image.NYCbCrA); with {
		src, ok = &alpha.YCbCr, true
	}
	if !ok {
		return img
	}
	for i, y := range src.Y {
		src.Y[i] = uint8(max(0, min(255, (float64(y)-16)*255/219+0.5)))
	}
	for _, plane := range [][]uint8{src.Cb, src.Cr} {
		for i, c := range plane {
			plane[i] = uint8(max(0, min(255, (float64(c)-128)*255/224+128.5)))
		}
	}
	return img
}
