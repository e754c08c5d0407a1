package values

import (
	"encoding/binary"
	"slices"

	"zestysketch/internal/core/picture"
)

// openClose takes away what is thinner than a square of 2r + 1 pixels: first
// light bridges and specks, then dark ones. Flat filters of steps act on every
// step at once (Serra 1982, Image Analysis and Mathematical Morphology).
func openClose(steps []uint8, w, h, r int) []uint8 {
	steps = darkest(steps, w, h, r)
	invert(steps) // the lightest of a square is the darkest of its opposite
	steps = darkest(darkest(steps, w, h, r), w, h, r)
	invert(steps)
	return darkest(steps, w, h, r)
}

func invert(steps []uint8) {
	for i, s := range steps {
		steps[i] = 127 - s
	}
}

// darkest takes the darkest step of each square of 2r + 1 pixels; beyond the
// edge the nearest pixel is repeated.
func darkest(in []uint8, w, h, r int) []uint8 {
	pw, ph := w+2*r, h+2*r
	pad := make([]uint8, pw*ph)
	for y := range ph {
		row := pad[y*pw : (y+1)*pw]
		src := in[max(0, min(h-1, y-r))*w:][:w]
		copy(row[r:], src)
		for i := range r {
			row[i], row[r+w+i] = src[0], src[w-1]
		}
	}
	// Along the rows first, each band of rows by itself; then down the columns,
	// each band with the rows below that its windows reach into.
	picture.Bands(ph, func(from, to int) { slide(pad[from*pw:to*pw], 1, 2*r+1) })
	out := make([]uint8, w*h)
	picture.Bands(h, func(from, to int) {
		band := slices.Clone(pad[from*pw : (to+2*r)*pw])
		slide(band, pw, 2*r+1)
		for y := from; y < to; y++ {
			copy(out[y*w:(y+1)*w], band[(y-from)*pw:])
		}
	})
	return out
}

// slide replaces each value, 0 to 127, by the least of size values, step apart,
// that begin with it: windows of twice the length are made of two, again and again.
func slide(v []uint8, step, size int) {
	n := 1
	widen := func(by int) {
		ahead := v[by*step:]
		i := 0
		for ; i+8 <= len(ahead); i += 8 {
			lesser(v[i:i+8], ahead[i:i+8])
		}
		for ; i < len(ahead); i++ {
			v[i] = min(v[i], ahead[i])
		}
	}
	for ; 2*n <= size; n *= 2 {
		widen(n)
	}
	if n < size {
		widen(size - n)
	}
}

// lesser keeps the lesser of eight pairs of values below 128 at once: a byte's
// top bit, lent to each difference, is left where there was nothing to borrow.
func lesser(to, from []uint8) {
	const top = 0x8080808080808080
	a, b := binary.LittleEndian.Uint64(to), binary.LittleEndian.Uint64(from)
	keep := (((b | top) - a) & top) >> 7 * 0xff // where a is no more than b
	binary.LittleEndian.PutUint64(to, a&keep|b&^keep)
}
