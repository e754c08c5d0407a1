package values

import (
	"cmp"
	"encoding/binary"
	"slices"

	"zestysketch/internal/core/picture"
)

// openClose takes away what is thinner than a square of 2r + 1 pixels: first
// light bridges and specks, then dark ones. Flat filters of steps act on every
// step at once (Serra 1982, Image Analysis and Mathematical Morphology).
func openClose(steps []uint8, w, h, r int) []uint8 {
	if r < 1 {
		return steps
	}
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
	// Along the rows first, each band of rows by itself; then down the columns.
	picture.Bands(ph, func(from, to int) { slide(pad[from*pw:to*pw], 1, 2*r+1) })
	slide(pad, pw, 2*r+1)
	out := make([]uint8, w*h)
	for y := range h {
		copy(out[y*w:(y+1)*w], pad[y*pw:])
	}
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

// settle parts the picture into connected areas of one step and joins those of
// fewer than least pixels to the neighbour they share most border with, the
// smallest first, until none is left. It returns each pixel's area.
func settle(steps []uint8, w, h, least int) (at []int32, areas []Area) {
	for {
		at, areas = label(steps, w, h)
		small := smallOnes(areas, least)
		if len(small) == 0 || len(areas) == 1 {
			return at, areas
		}
		borders := contacts(at, w, h, areas, least)
		changed := false
		for _, a := range small {
			best, most := -1, 0
			for _, c := range borders[a] {
				// A neighbour that is itself joined in this round waits for the next.
				if c.length > most && areas[c.area].Pixels >= areas[a].Pixels {
					best, most = areas[c.area].Step, c.length
				}
			}
			if best >= 0 && best != areas[a].Step {
				areas[a].Step = best
				changed = true
			}
		}
		if !changed {
			return at, areas
		}
		for i, a := range at {
			steps[i] = uint8(areas[a].Step)
		}
	}
}

func smallOnes(areas []Area, least int) (small []int32) {
	for i, a := range areas {
		if a.Pixels < least {
			small = append(small, int32(i))
		}
	}
	slices.SortFunc(small, func(a, b int32) int { return cmp.Compare(areas[a].Pixels, areas[b].Pixels) })
	return small
}

// label numbers the connected areas, by sides, in the order of their first
// pixel: two passes with union and find (Rosenfeld and Pfaltz 1966, Journal of
// the ACM 13(4)).
func label(steps []uint8, w, h int) ([]int32, []Area) {
	at := make([]int32, len(steps))
	parent := []int32{}
	find := func(a int32) int32 {
		for parent[a] != a {
			parent[a] = parent[parent[a]]
			a = parent[a]
		}
		return a
	}
	for y := range h {
		for x := range w {
			i := y*w + x
			left := x > 0 && steps[i-1] == steps[i]
			up := y > 0 && steps[i-w] == steps[i]
			switch {
			case left && up:
				a, b := find(at[i-1]), find(at[i-w])
				parent[max(a, b)] = min(a, b)
				at[i] = min(a, b)
			case left:
				at[i] = at[i-1]
			case up:
				at[i] = at[i-w]
			default:
				at[i] = int32(len(parent))
				parent = append(parent, at[i])
			}
		}
	}
	number := make([]int32, len(parent))
	var areas []Area
	for a := range parent {
		if root := find(int32(a)); root == int32(a) {
			number[a] = int32(len(areas))
			areas = append(areas, Area{})
		} else {
			number[a] = number[root] // roots come before what hangs on them
		}
	}
	for i := range at {
		at[i] = number[at[i]]
		areas[at[i]].Pixels++
		areas[at[i]].Step = int(steps[i])
	}
	return at, areas
}

// contact is a border with a neighbour.
type contact struct {
	area   int32
	length int
}

// contacts returns the borders of the areas of fewer than least pixels, by the
// neighbours' first meeting.
func contacts(at []int32, w, h int, areas []Area, least int) map[int32][]contact {
	borders := map[int32][]contact{}
	meet := func(a, b int32) {
		if a == b || areas[a].Pixels >= least {
			return
		}
		list := borders[a]
		for i := range list {
			if list[i].area == b {
				list[i].length++
				return
			}
		}
		borders[a] = append(list, contact{b, 1})
	}
	for y := range h {
		for x := range w {
			i := y*w + x
			if x+1 < w {
				meet(at[i], at[i+1])
				meet(at[i+1], at[i])
			}
			if y+1 < h {
				meet(at[i], at[i+w])
				meet(at[i+w], at[i])
			}
		}
	}
	return borders
}
