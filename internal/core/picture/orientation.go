package picture

import (
	"encoding/binary"
	"image"
	"image/color"
	"image/draw"
)

// OnWhite returns a picture, which is upright, as the one kind of picture there is after the door.
func OnWhite(img image.Image) *image.RGBA { return upright(img, 1) }

// onWhite draws the part of a picture from row from to row to, on white, with
// its left end at the left of out's first row.
func onWhite(out *image.RGBA, img image.Image, from, to int) {
	b := img.Bounds()
	part := image.Rect(0, 0, b.Dx(), to-from).Add(out.Rect.Min)
	at := b.Min.Add(image.Pt(0, from))
	if y, ok := img.(*image.YCbCr); ok && y.SubsampleRatio == image.YCbCrSubsampleRatio420 && b.Min == (image.Point{}) {
		fromYCbCr(out, y, from, to)
		return
	}
	if o, ok := img.(interface{ Opaque() bool }); ok && o.Opaque() {
		draw.Draw(out, part, img, at, draw.Src)
		return
	}
	draw.Draw(out, part, image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.Draw(out, part, img, at, draw.Over)
}

// fromYCbCr converts rows of a picture whose colour is kept for two pixels by two,
// which share the sums: as package image/color does it (ITU-T T.871, 7), a pixel at a time.
func fromYCbCr(out *image.RGBA, img *image.YCbCr, from, to int) {
	w := img.Rect.Dx()
	for y := from; y < to; y++ {
		luma := img.Y[y*img.YStride : y*img.YStride+w]
		cb, cr := img.Cb[y/2*img.CStride:y/2*img.CStride+(w+1)/2], img.Cr[y/2*img.CStride:y/2*img.CStride+(w+1)/2]
		row := out.Pix[(y-from)*out.Stride : (y-from)*out.Stride+4*w]
		for i := range w / 2 {
			b, r := int32(cb[i])-128, int32(cr[i])-128
			red, green, blue := 91881*r, -22554*b-46802*r, 116130*b
			two, to := luma[2*i:2*i+2:2*i+2], row[8*i:8*i+8:8*i+8]
			first, second := int32(two[0])*0x10101, int32(two[1])*0x10101
			binary.LittleEndian.PutUint32(to, byte16(first+red)|byte16(first+green)<<8|byte16(first+blue)<<16|0xff<<24)
			binary.LittleEndian.PutUint32(to[4:], byte16(second+red)|byte16(second+green)<<8|byte16(second+blue)<<16|0xff<<24)
		}
		if w%2 == 1 {
			r, g, b := color.YCbCrToRGB(luma[w-1], cb[w/2], cr[w/2])
			row[4*w-4], row[4*w-3], row[4*w-2], row[4*w-1] = r, g, b, 0xff
		}
	}
}

// byte16 returns the whole part of a number in parts of 65536, 0 to 255.
func byte16(v int32) uint32 {
	if uint32(v)&0xff000000 == 0 {
		return uint32(v) >> 16
	}
	return uint32(^(v >> 31)) & 0xff
}

// band is how many rows are converted at a time before they are turned: both
// stay in the cache.
const band = 32

// upright returns a picture as opaque RGBA at the origin, on white, with an EXIF
// orientation undone (CIPA DC-008, tag 274). Bit by bit the value says: exchange
// the axes, then mirror across, then mirror down. It is converted and turned row
// by row, so that there is never a second copy of a large picture.
func upright(img image.Image, turn int) *image.RGBA {
	w, h := img.Bounds().Dx(), img.Bounds().Dy()
	swap := turn >= 5
	mirrorX := turn == 2 || turn == 3 || turn == 6 || turn == 7
	mirrorY := turn == 3 || turn == 4 || turn == 7 || turn == 8
	size := image.Pt(w, h)
	if swap {
		size = image.Pt(h, w)
	}
	out := image.NewRGBA(image.Rectangle{Max: size})
	if turn == 1 {
		Bands(h, func(from, to int) { onWhite(out.SubImage(image.Rect(0, from, w, to)).(*image.RGBA), img, from, to) })
		return out
	}
	// Where the source's first pixel goes, and how far one pixel right and down moves in the result.
	stepX, stepY, start := 4, out.Stride, 0
	if mirrorX {
		start, stepX = start+(size.X-1)*4, -stepX
	}
	if mirrorY {
		start, stepY = start+(size.Y-1)*out.Stride, -stepY
	}
	if swap {
		stepX, stepY = stepY, stepX
	}
	Bands(h, func(from, to int) {
		rows := image.NewRGBA(image.Rect(0, 0, w, band))
		for y := from; y < to; y += band {
			n := min(band, to-y)
			onWhite(rows, img, y, y+n)
			turned(out.Pix, rows, w, n, start+y*stepY, stepX, stepY)
		}
	})
	return out
}

// turned copies rows to where they belong, in the order in which the result lies.
func turned(to []uint8, rows *image.RGBA, w, n, start, stepX, stepY int) {
	if stepX == 4 || stepX == -4 {
		for y := range n {
			at := start + y*stepY
			for x := range w {
				*(*[4]byte)(to[at:]) = *(*[4]byte)(rows.Pix[y*rows.Stride+4*x:])
				at += stepX
			}
		}
		return
	}
	for x := range w {
		at := start + x*stepX
		for y := range n {
			*(*[4]byte)(to[at:]) = *(*[4]byte)(rows.Pix[y*rows.Stride+4*x:])
			at += stepY
		}
	}
}
