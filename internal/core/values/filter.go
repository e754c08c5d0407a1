package values

import (
	"bytes"
	"encoding/binary"
	"slices"

	"zestysketch/internal/core/picture"
)

// unset is no step.
const unset = 127

// broadened leaves of every step what a square of 2r + 1 pixels fits into (the
// opening of Serra 1982, Image Analysis and Mathematical Morphology, of all
// steps at once), and gives the rest, specks, necks and bands between two other
// steps, to the nearest of what is left. Where no square fits anywhere, all
// becomes the commonest step.
func broadened(steps []uint8, w, h, r int) []uint8 {
	low, high := darkest(steps, w, h, r), lightest(steps, w, h, r)
	picture.Bands(h, func(from, to int) { // the middles of squares of one step, by both ends
		for i := from * w; i < to*w; i++ {
			if low[i] != high[i] {
				low[i], high[i] = unset, 0
			} else {
				high[i] = low[i] + 1
			}
		}
	})
	low, high = darkest(low, w, h, r), lightest(high, w, h, r)
	picture.Bands(h, func(from, to int) {
		for i := from * w; i < to*w; i++ {
			if s := steps[i]; low[i] == s || high[i] == s+1 {
				low[i] = s
			} else {
				low[i] = unset
			}
		}
	})
	if !spread(low, w, h) {
		common := commonest(steps)
		for i := range low {
			low[i] = common
		}
	}
	return low
}

func commonest(steps []uint8) (best uint8) {
	var n [unset + 1]int
	for _, s := range steps {
		n[s]++
	}
	for s := range n {
		if n[s] > n[best] {
			best = uint8(s)
		}
	}
	return best
}

// spread gives every unset pixel the step of the nearest that is set, by sides:
// a flood from all of them at once. It reports whether any was set.
func spread(steps []uint8, w, h int) bool {
	sides := func(i int) (at [4]int, n int) {
		x := i % w
		for _, k := range [4]struct {
			ok bool
			j  int
		}{{i >= w, i - w}, {i < w*(h-1), i + w}, {x > 0, i - 1}, {x+1 < w, i + 1}} {
			if k.ok {
				at[n] = k.j
				n++
			}
		}
		return at, n
	}
	var front, next []int32
	all := true
	for i := 0; i < len(steps); i++ {
		ahead := bytes.IndexByte(steps[i:], unset)
		if ahead < 0 {
			break
		}
		i += ahead
		all = false
		at, n := sides(i)
		for _, j := range at[:n] {
			if steps[j] != unset {
				front = append(front, int32(j)) // perhaps more than once: it spreads once
			}
		}
	}
	for reached := front; len(reached) > 0; {
		next = next[:0]
		for _, i := range reached {
			at, n := sides(int(i))
			for _, j := range at[:n] {
				if steps[j] == unset {
					steps[j] = steps[i]
					next = append(next, int32(j))
				}
			}
		}
		reached, next = next, reached
	}
	return all || len(front) > 0
}

// lightest takes the lightest step of each square: the darkest of its opposite.
func lightest(in []uint8, w, h, r int) []uint8 {
	opposite := slices.Clone(in)
	invert(opposite)
	out := darkest(opposite, w, h, r)
	invert(out)
	return out
}

// invert turns steps, 0 to 127, into their opposites, eight at once.
func invert(steps []uint8) {
	const all = 0x7f7f7f7f7f7f7f7f
	i := 0
	for ; i+8 <= len(steps); i += 8 {
		eight := steps[i : i+8]
		binary.LittleEndian.PutUint64(eight, binary.LittleEndian.Uint64(eight)^all)
	}
	for ; i < len(steps); i++ {
		steps[i] ^= 0x7f
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
