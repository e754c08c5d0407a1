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
	"image/color"
	"image/draw"
	_ "image/gif" // the formats of drawings, cameras, scanners, pages and phones
	_ "image/jpeg"
	_ "image/png"
	"math"

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
	ErrTooNarrow = errors.New("the picture is a thin strip; choose one at least 16 pixels wide and high")
)

// Unreadable reports whether an error is of the file itself, for the person who
// chose it to mend.
func Unreadable(err error) bool {
	for _, e := range []error{ErrEmpty, ErrKind, ErrDamaged, ErrTooLarge, ErrTooNarrow} {
		if errors.Is(err, e) {
			return true
		}
	}
	return false
}

// MaxPixels bounds what is decoded: a progressive JPEG of this size stays
// under the 400 MB that the server may use.
const MaxPixels = 40_000_000

// MaxBytes bounds what is read at all.
const MaxBytes = 40 << 20

const minSide = 16

// Decode returns the picture in b upright, as the camera's orientation says,
// on white. Its size is bounded before any pixel is decoded.
func Decode(b []byte) (*image.RGBA, error) {
	if len(b) == 0 {
		return nil, ErrEmpty
	}
	size, format, err := image.DecodeConfig(bytes.NewReader(b))
	switch {
	case errors.Is(err, image.ErrFormat):
		return nil, ErrKind
	case err != nil:
		return nil, fmt.Errorf("%w (%v)", ErrDamaged, err)
	case size.Width < minSide || size.Height < minSide:
		return nil, ErrTooNarrow
	case size.Width > MaxPixels/size.Height:
		return nil, fmt.Errorf("%w; this one has %d", ErrTooLarge, megapixels(size))
	}
	img, _, err := image.Decode(bytes.NewReader(b))
	if err != nil {
		return nil, fmt.Errorf("%w (%v)", ErrDamaged, err)
	}
	if format == "webp" {
		img = videoRange(img)
	}
	turn := orientation(b, format)
	return upright(onWhite(img), turn), nil
}

func megapixels(c image.Config) int {
	return int(math.Round(float64(c.Width) * float64(c.Height) / 1e6))
}

// onWhite copies img to opaque RGBA at the origin.
func onWhite(img image.Image) *image.RGBA {
	b := img.Bounds()
	out := image.NewRGBA(image.Rect(0, 0, b.Dx(), b.Dy()))
	if o, ok := img.(interface{ Opaque() bool }); ok && o.Opaque() {
		Bands(b.Dy(), func(from, to int) {
			draw.Draw(out, image.Rect(0, from, b.Dx(), to), img, b.Min.Add(image.Pt(0, from)), draw.Src)
		})
		return out
	}
	draw.Draw(out, out.Rect, image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.Draw(out, out.Rect, img, b.Min, draw.Over)
	return out
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

// upright undoes an EXIF orientation (CIPA DC-008, tag 274). Bit by bit the
// value says: exchange the axes, then mirror across, then mirror down.
func upright(src *image.RGBA, turn int) *image.RGBA {
	if turn == 1 {
		return src
	}
	swap := turn >= 5
	mirrorX := turn == 2 || turn == 3 || turn == 6 || turn == 7
	mirrorY := turn == 3 || turn == 4 || turn == 7 || turn == 8
	w, h := src.Rect.Dx(), src.Rect.Dy()
	if swap {
		w, h = h, w
	}
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	stepX, stepY := 4, src.Stride // in the source, for one pixel right and down in the result
	if swap {
		stepX, stepY = stepY, stepX
	}
	start := 0
	if mirrorX {
		start, stepX = start+(w-1)*stepX, -stepX
	}
	if mirrorY {
		start, stepY = start+(h-1)*stepY, -stepY
	}
	Bands(h, func(from, to int) { copyTurned(out, src, start, stepX, stepY, from, to) })
	return out
}

// tile keeps both pictures' rows in the cache while the axes are exchanged.
const tile = 32

func copyTurned(out, src *image.RGBA, start, stepX, stepY, from, to int) {
	w := out.Rect.Dx()
	for y0 := from; y0 < to; y0 += tile {
		for x0 := 0; x0 < w; x0 += tile {
			for y := y0; y < min(y0+tile, to); y++ {
				at := start + y*stepY + x0*stepX
				row := out.Pix[y*out.Stride+4*x0 : y*out.Stride+4*min(x0+tile, w)]
				for ; len(row) > 0; row = row[4:] {
					*(*[4]byte)(row) = *(*[4]byte)(src.Pix[at:])
					at += stepX
				}
			}
		}
	}
}
