package press

import (
	"fmt"
	"image"

	"zestysketch/internal/core/finish"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lines"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/values"
	"zestysketch/internal/store"
)

// reducedSide is the longer side, in pixels, of a picture that is reduced to lines or tones for a page.
const reducedSide = 1200

// LandmarksIn returns where landmarks lie in a picture as the sheet shows it.
func LandmarksIn(p grid.Plan, pins []reading.Pin, perMM float64) (at []plane.Point) {
	for _, pin := range pins {
		at = append(at, p.ToSheet(pin.At).Mul(perMM))
	}
	return at
}

// reduce adds to a wish what a kind of page shows of a reduced picture, each once for a plan and a picture.
func (s Set) reduce(k page.Kind, w *sheet.Wish, pic *store.Picture) error {
	if pic == nil || w.Plan.Frame == nil || s.Look == nil || k != sheet.KindLines && k != sheet.KindMap && k != sheet.KindTape {
		return nil
	}
	if k == sheet.KindMap && pic.LineDrawing() {
		return fmt.Errorf("the value map: %w: a line drawing has no tones; take the line sheet", page.ErrEmpty)
	}
	key := fmt.Sprint(k, pic.ID, *w.Plan.Frame, w.Plan.Sheet, w.Plan.Grid)
	if known, ok := s.reduced[key]; ok {
		w.Reduced = known
		return nil
	}
	usual := values.Usual
	f := photo.SheetFrame(w.Plan, reducedSide)
	usual.PerMM, usual.Keep = f.PerMM, LandmarksIn(w.Plan, w.Pins, f.PerMM)
	err := s.Look(pic.ID, func(img *image.RGBA) (err error) {
		shown := photo.Wanted(w.Plan, photo.NewShot(img), f)
		switch k {
		case sheet.KindLines:
			w.Reduced.Lines, err = lines.Draw(shown, lines.Wish{Detail: lines.Usual, PerMM: f.PerMM, Drawing: pic.LineDrawing(), Keep: LandmarksIn(w.Plan, w.Pins, f.PerMM)})
		case sheet.KindMap:
			w.Reduced.Map, err = values.New(shown, usual)
		case sheet.KindTape:
			w.Reduced.Carry, err = finish.Carried{Plan: w.Plan, Image: shown, PerMM: f.PerMM, Drawing: pic.LineDrawing(), Pins: w.Pins}.List()
		}
		return err
	})
	s.reduced[key] = w.Reduced
	return err
}
