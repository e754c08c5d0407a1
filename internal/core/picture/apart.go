package picture

import (
	"image"
	"slices"
)

// Apart returns where things stand side by side on a plain ground, from the left, each in the smallest box round it:
// what is parted by upright strips of the ground. Flecks are nothing. One box, or none, where they are not apart.
func Apart(img *image.RGBA) (boxes []image.Rectangle) {
	// Shares of the picture: of a column that something fills, of the width that is a gap, and that is a thing (ours).
	const filled, gap, thing = 0.004, 0.012, 0.03
	w, h := img.Rect.Dx(), img.Rect.Dy()
	ground := groundOf(img)
	stands := func(x, y int) bool {
		p := img.Pix[img.PixOffset(x, y):]
		far := 0
		for i := range 3 {
			far = max(far, int(p[i])-int(ground[i]), int(ground[i])-int(p[i]))
		}
		return far > 32
	}
	from, empty := -1, 0
	end := func(to int) {
		if from >= 0 && float64(to-from) >= thing*float64(w) {
			boxes = append(boxes, tight(image.Rect(from, 0, to, h), stands))
		}
		from = -1
	}
	for x := range w {
		n := 0
		for y := range h {
			if stands(x, y) {
				n++
			}
		}
		if float64(n) <= filled*float64(h) {
			if empty++; from >= 0 && float64(empty) >= gap*float64(w) {
				end(x + 1 - empty)
			}
			continue
		}
		if empty = 0; from < 0 {
			from = x
		}
	}
	end(w - empty)
	return boxes
}

// groundOf returns the middle colour of a picture's border.
func groundOf(img *image.RGBA) (ground [3]uint8) {
	var all [3][]uint8
	take := func(x, y int) {
		p := img.Pix[img.PixOffset(x, y):]
		for i := range 3 {
			all[i] = append(all[i], p[i])
		}
	}
	w, h := img.Rect.Dx(), img.Rect.Dy()
	for x := range w {
		take(x, 0)
		take(x, h-1)
	}
	for y := range h {
		take(0, y)
		take(w-1, y)
	}
	for i := range 3 {
		slices.Sort(all[i])
		ground[i] = all[i][len(all[i])/2]
	}
	return ground
}

// tight returns the rows of a box that hold something, flecks aside.
func tight(box image.Rectangle, stands func(x, y int) bool) image.Rectangle {
	const filled = 0.004
	row := func(y int) bool {
		n := 0
		for x := box.Min.X; x < box.Max.X; x++ {
			if stands(x, y) {
				n++
			}
		}
		return float64(n) > filled*float64(box.Dx())
	}
	for box.Min.Y < box.Max.Y && !row(box.Min.Y) {
		box.Min.Y++
	}
	for box.Max.Y > box.Min.Y && !row(box.Max.Y-1) {
		box.Max.Y--
	}
	return box
}
