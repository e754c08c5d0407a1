package checks

import (
	"bytes"
	"encoding/json"
	"image"
	"image/jpeg"
	"net/http"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	photos "zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/intake"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// looksSide is the longer side, in pixels, of the drawing and the reference as
// they are laid on one another.
const looksSide = 1200

// straight answers with the drawing seen straight on.
func (a area) straight(w http.ResponseWriter, r *http.Request, c store.CheckIn, j checkin.Job) (err error) {
	if c.Corners == nil {
		return store.ErrNotFound
	}
	view, err := j.View(c, *c.Corners)
	if err != nil {
		return kit.Ask("%s", kit.Sentence(err.Error()))
	}
	return a.picture(w, r, c.PictureID, store.Full, func(s *photos.Shot) *image.RGBA { return view.Straight(s, photos.SheetFrame(j.Plan, looksSide)) })
}

// wanted answers with the reference, laid out as the drawing is.
func (a area) wanted(w http.ResponseWriter, r *http.Request, _ store.CheckIn, j checkin.Job) error {
	id := j.PictureID()
	if id == nil {
		return store.ErrNotFound
	}
	return a.picture(w, r, *id, store.View, func(s *photos.Shot) *image.RGBA {
		return photos.Wanted(j.Plan, s, photos.SheetFrame(j.Plan, looksSide))
	})
}

func (a area) picture(w http.ResponseWriter, r *http.Request, id uint64, role store.Role, shown func(*photos.Shot) *image.RGBA) error {
	file, err := a.Store.PictureFile(r.Context(), kit.Owner(r), id, role)
	if err != nil {
		return err
	}
	var jpg bytes.Buffer
	err = intake.Use(r.Context(), file.Bytes, func(img *image.RGBA) error {
		return jpeg.Encode(&jpg, shown(photos.NewShot(img)), &jpeg.Options{Quality: 85})
	})
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", "image/jpeg")
	w.Header().Set("Cache-Control", "private, max-age=600") // their addresses carry the version
	_, err = w.Write(jpg.Bytes())
	return err
}

// marks answers with the arrows that belong over the straight drawing.
func (a area) marks(w http.ResponseWriter, r *http.Request, c store.CheckIn, j checkin.Job) (err error) {
	if c.Report == nil {
		return store.ErrNotFound
	}
	var svg bytes.Buffer
	if err := render.SVG(&svg, sheet.Marked(*c.Report, j.Plan), nil); err != nil {
		return err
	}
	w.Header().Set("Content-Type", "image/svg+xml")
	_, err = w.Write(svg.Bytes())
	return err
}

// slide is a part of the drawing as it is seen to go where it belongs: in shares of the sheet where it
// lies and how far it goes, and how it grows and turns on the way.
type slide struct {
	X, Y, W, H, Right, Down, Grow, Turn float64
}

// slides returns the parts that moved, as JSON; empty for none.
func slides(parts []accuracy.Part, p grid.Plan) string {
	var all []slide
	for _, q := range parts {
		if q.State != accuracy.PartMoved {
			continue
		}
		room := q.Where.Grown(roomBeside * p.Grid.SheetCell[0])
		mid, size := q.Carry(room.Middle(), p), plane.Pt(room.Width()*q.Size, room.Height()*q.Size)
		move := room.Middle().Sub(mid)
		w, h := p.Sheet.Width, p.Sheet.Height
		all = append(all, slide{(mid.X - size.X/2) / w, (mid.Y - size.Y/2) / h, size.X / w, size.Y / h, move.X / size.X, move.Y / size.Y, 1 / q.Size, -q.Turn})
	}
	if all == nil {
		return ""
	}
	b, err := json.Marshal(all)
	if err != nil {
		return "" // numbers that are none: nothing slides
	}
	return string(b)
}

// roomBeside is how much of the drawing beside a part goes with it, in boxes.
const roomBeside = 0.08
