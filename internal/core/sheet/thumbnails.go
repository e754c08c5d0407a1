package sheet

import (
	"fmt"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
)

// MostThumbnails bounds the boxes of one kind on a sheet: smaller ones are no use.
const MostThumbnails = 12

// Thumbnails returns a page of small boxes of the drawing's ratio, some
// upright and some lying, for trying out compositions before one is enlarged.
// The wish's frames fill the boxes of their own way round in turn, where there
// are any; else the boxes are empty, for gestures. Commonly there are three of
// each (common practice). The error wraps ErrPaper, or says how many boxes
// were asked for.
func Thumbnails(w Wish) (page.Page, error) {
	upright, lying := w.Upright, w.Lying
	if upright == 0 && lying == 0 {
		upright, lying = 3, 3
	}
	if upright < 0 || lying < 0 || upright > MostThumbnails || lying > MostThumbnails {
		return page.Page{}, fmt.Errorf("wanted 1 to %d boxes upright or lying, got %d and %d", MostThumbnails, upright, lying)
	}
	l, err := page.Free(w.Printer, "the page of thumbnails")
	if err != nil {
		return page.Page{}, err
	}
	pg, in := l.Begin(w.titled(), "Thumbnails · small boxes of the paper's own ratio"), l.Inner()
	size := w.Plan.SheetSize()
	if size.W > size.H {
		size = size.Turned()
	}
	room, parts := in.Height()-6, float64(upright+lying)
	drawBoxes(&pg, size, upright, shaped(w.Frames, false), page.Box(in.Min.X, in.Min.Y+3, in.Width(), room*float64(upright)/parts))
	drawBoxes(&pg, size.Turned(), lying, shaped(w.Frames, true), page.Box(in.Min.X, in.Min.Y+3+room*float64(upright)/parts, in.Width(), room*float64(lying)/parts))
	return pg, nil
}

// shaped returns the frames that lie, or those that stand.
func shaped(frames []grid.Frame, lying bool) (of []grid.Frame) {
	for _, f := range frames {
		if (f.Size[0] > f.Size[1]) == lying {
			of = append(of, f)
		}
	}
	return of
}

// drawBoxes lays n boxes of one ratio into an area, as large as they can be.
func drawBoxes(pg *page.Page, ratio measure.Size, n int, frames []grid.Frame, area plane.Rect) {
	if n == 0 {
		return
	}
	const gap = 6.0
	best, columns := 0.0, 1
	for c := 1; c <= n; c++ {
		rows := (n + c - 1) / c
		k := min((area.Width()-gap*float64(c-1))/float64(c)/float64(ratio.W), (area.Height()-gap*float64(rows))/float64(rows)/float64(ratio.H))
		if k > best {
			best, columns = k, c
		}
	}
	w, h := float64(ratio.W)*best, float64(ratio.H)*best
	left := area.Min.X + (area.Width()-float64(columns)*w-float64(columns-1)*gap)/2
	for i := range n {
		b := page.Box(left+float64(i%columns)*(w+gap), area.Min.Y+float64(i/columns)*(h+gap), w, h)
		if len(frames) > 0 {
			part := frames[i%len(frames)].CutTo(w / h)
			pg.Add(page.Picture{Box: b, Name: FramePicture, Part: &part})
		}
		pg.Add(page.BoxPath(b, 0.4, page.Ink))
	}
}
