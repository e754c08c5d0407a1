package student

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	photos "zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/intake"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// laidSide is the longer side, in pixels, of drawing and picture as they lie beside and
// over one another, and thingRoom how much is shown round the boxes in question, in boxes.
const (
	laidSide  = 1000
	thingRoom = 0.4
)

// mostWaiting is how many photos of one student wait at once.
const mostWaiting = 2

// handed is what the page of a student's photos shows.
type handed struct {
	Link, Name, Project string
	Open                bool
	Plan                string // what the viewfinder looks for
	Ruled               bool   // the sheet is being marked up: its grid is judged
	When                string // when it opens, where it is not
	Seen                seen
}

// seen is what became of a student's photos.
type seen struct {
	Link     string
	Working  bool
	Refused  string // why the last one was not kept
	Told     bool   // there is a measured one
	At       string
	ID       uint64
	Version  int
	Strength string
	Closing  string // where nothing is to be mended
	Things   []thing
	Untold   []string // boxes that could not be told
	All      *thing   // where nothing is to be mended: the whole sheet
	Film     []still  // all photos of the drawing, the oldest first, where there are several
	Boxes    []still  // the whole sheet and each box, to look at one in the film
	Whole    string   // why it could not be measured, or what is wrong with the photo
	Mended   []string
	Worse    []string
	Bare     bool
	W, H     int
}

// still is a drawing at a time, or a part to look at.
type still struct{ Words, Value string }

// thing is one thing to mend, with the part of the sheet that shows it.
type thing struct {
	Drawn, Wanted string // addresses of the drawing and the picture, laid out alike
	W, H          int
	Number        int
	Words         string
	Cells         []string
	Box           string // of an SVG that shows drawing or picture
}

func (a area) photoPage(w http.ResponseWriter, r *http.Request, o own) (err error) {
	v := handed{Link: chi.URLParam(r, "link"), Name: o.student.Name, Project: o.project.Name}
	place, err := a.placed(r, o)
	if err != nil {
		return err
	}
	v.Open, v.When = o.project.HandIn.Open(place)
	v.Ruled = place.Stage.Kind == lesson.MarkUp
	if v.Seen, err = a.seen(r, o); err != nil {
		return err
	}
	plan, err := grid.Encode(o.plan)
	if err != nil {
		return err
	}
	v.Plan = string(plan)
	// The viewfinder is compiled code of our own; nothing else may be run so, and nowhere else.
	policy := w.Header().Get("Content-Security-Policy")
	w.Header().Set("Content-Security-Policy", strings.Replace(policy, "script-src 'self'", "script-src 'self' 'wasm-unsafe-eval'", 1))
	return pages.Whole(w, r, "photo.html", o.student.Name+" · photo", v)
}

// photoNow answers with what became of the photos.
func (a area) photoNow(w http.ResponseWriter, r *http.Request, o own) (err error) {
	s, err := a.seen(r, o)
	if err != nil {
		return err
	}
	return pages.Part(w, r, "photo.html", "seen", http.StatusOK, s)
}

// placed returns where a student is on the road, by what is ticked.
func (a area) placed(r *http.Request, o own) (lesson.Place, error) {
	ticks, err := a.Store.StudentTicks(r.Context(), o.project.ID, o.student.ID)
	if err != nil {
		return lesson.Place{}, err
	}
	return a.onRoad(r, o, len(ticks) > 0)
}

// readPhoto returns the name and the bytes of the photo sent in a field, or asks for it in
// the words given when none came.
func readPhoto(w http.ResponseWriter, r *http.Request, field, ask string) (string, []byte, error) {
	if err := kit.ReadPicture(w, r); err != nil {
		return "", nil, err
	}
	if !kit.HasFile(r, field) {
		return "", nil, kit.AskAt(field, "%s", ask)
	}
	return kit.ReadFile(r, field)
}

// handIn takes a photo in, which a worker measures.
func (a area) handIn(w http.ResponseWriter, r *http.Request, o own) (err error) {
	place, err := a.placed(r, o)
	if err != nil {
		return err
	}
	if open, when := o.project.HandIn.Open(place); !open {
		return kit.Ask("%s Your photo was not sent.", when)
	}
	name, b, err := readPhoto(w, r, "photo", "Take or choose a photo of your drawing first.")
	if err != nil {
		return err
	}
	waiting, failed, err := a.ownJobs(r.Context(), o)
	if err != nil {
		return err
	}
	if len(waiting) >= mostWaiting {
		return kit.Ask("Your last photos are still being looked at. Wait a moment, then send this one.")
	}
	var old []uint64
	for _, j := range failed {
		old = append(old, j.ID)
	}
	if err := a.Store.RemoveJobs(r.Context(), o.project.ID, old); err != nil {
		return err
	}
	h := checkin.Handed{Name: intake.Name(name), Student: o.student.ID, Class: o.project.Chosen, Own: true}
	if _, err := checkin.Queue(r.Context(), a.Store, o.project, h, b, true); err != nil {
		if picture.Unreadable(err) {
			return kit.AskAt("photo", "%s", kit.Said(err))
		}
		return err
	}
	return kit.Go(w, r, "/s/"+chi.URLParam(r, "link")+"/photo")
}

// ownJobs returns a student's own photos that wait, and those that were not kept, the oldest
// first.
func (a area) ownJobs(ctx context.Context, o own) (waiting, failed []store.Job, err error) {
	jobs, err := a.Store.Photos(ctx, o.project.ID, nil)
	for _, j := range jobs {
		h, bad := checkin.HandedOf(j)
		switch {
		case bad != nil || !h.Own || h.Student != o.student.ID:
		case j.State == store.Failed:
			failed = append(failed, j)
		default:
			waiting = append(waiting, j)
		}
	}
	return waiting, failed, err
}

// seen says what became of a student's photos: one that waits, or why the last one was not
// kept, and what the last measured one says.
func (a area) seen(r *http.Request, o own) (s seen, err error) {
	s.Link, s.Bare = chi.URLParam(r, "link"), o.project.HandInBare
	waiting, failed, err := a.ownJobs(r.Context(), o)
	if err != nil {
		return s, err
	}
	if s.Working = len(waiting) > 0; !s.Working && len(failed) > 0 {
		s.Refused = failed[len(failed)-1].Message
	}
	c, err := a.Store.LastMeasured(r.Context(), o.project.ID, o.student.ID, 0, 0)
	if errors.Is(err, store.ErrNotFound) {
		return s, nil
	}
	if err != nil {
		return s, err
	}
	school, err := a.Store.SchoolOf(r.Context(), o.project.TeacherID)
	if err != nil {
		return s, err
	}
	s.Told, s.ID, s.Version, s.At = true, c.ID, c.Version, room.ClockOf(school).Moment(c.CreatedAt)
	f := photos.SheetFrame(o.plan, laidSide)
	s.W, s.H = f.W, f.H
	s.tell(o.plan, *c.Report)
	if err := a.film(r, o, c, room.ClockOf(school), &s); err != nil {
		return s, err
	}
	before, err := a.Store.LastMeasured(r.Context(), o.project.ID, o.student.ID, c.ID, c.PlanSum)
	if err == nil && before.Report.Measured && c.Report.Measured {
		since := c.Report.Since(*before.Report)
		s.Mended, s.Worse = since.Mended, since.Worse
	}
	if errors.Is(err, store.ErrNotFound) {
		err = nil
	}
	return s, err
}

// lastDrawn lays out the whole of a student's last measured drawing; All stays nil where there is none.
func (a area) lastDrawn(r *http.Request, o own, s *seen) error {
	c, err := a.lastMeasured(r, o)
	if err != nil || c == nil || !c.Report.Measured {
		return err
	}
	f := photos.SheetFrame(o.plan, laidSide)
	s.ID, s.Version, s.W, s.H = c.ID, c.Version, f.W, f.H
	s.whole()
	return nil
}

// whole shows all of drawing and picture.
func (s *seen) whole() {
	all := s.laidOut(thing{Box: fmt.Sprintf("0 0 %d %d", s.W, s.H)})
	s.All = &all
}

// film lists a student's drawings by the plan of the last one, and the parts of it to look at.
func (a area) film(r *http.Request, o own, last store.CheckIn, clock room.Clock, s *seen) error {
	list, err := a.Store.Filmed(r.Context(), o.project.ID, o.student.ID, last.PlanSum)
	if err != nil || len(list) < 2 {
		return err
	}
	for _, c := range list {
		s.Film = append(s.Film, still{clock.Short(c.CreatedAt), fmt.Sprintf("/s/%s/drawing?photo=%d&v=%d", s.Link, c.ID, c.Version)})
	}
	s.Boxes = []still{{"the whole sheet", fmt.Sprintf("0 0 %d %d", s.W, s.H)}}
	for _, c := range o.plan.Cells() {
		s.Boxes = append(s.Boxes, still{c.Label, s.part(o.plan, around(o.plan, []string{c.Label}))})
	}
	return nil
}

// part returns the box of an SVG that shows a part of the sheet.
func (s *seen) part(p grid.Plan, part plane.Rect) string {
	f := photos.SheetFrame(p, laidSide)
	from, to := f.Pixel(part.Min), f.Pixel(part.Max)
	return fmt.Sprintf("%.0f %.0f %.0f %.0f", from.X, from.Y, to.X-from.X, to.Y-from.Y)
}

// laidOut returns a thing with the addresses of drawing and picture.
func (s *seen) laidOut(t thing) thing {
	v := fmt.Sprintf("?v=%d-%d", s.ID, s.Version)
	t.Drawn, t.Wanted, t.W, t.H = "/s/"+s.Link+"/drawing"+v, "/s/"+s.Link+"/wanted"+v, s.W, s.H
	return t
}

// tell fills in what a report says to the one who drew: a strength, then what to mend, each
// with its place.
func (s *seen) tell(p grid.Plan, r accuracy.Report) {
	s.Strength, s.Closing = r.Strength, r.Closing()
	if !r.Measured {
		s.Whole = r.Why
		return
	}
	s.Untold = r.Untold()
	if len(r.Photo.Problems) > 0 {
		s.Whole = r.Photo.Problems[0]
	}
	for _, one := range r.Next {
		t := thing{Number: len(s.Things) + 1, Words: one.Words, Cells: one.Cells}
		part := plane.Rect{Max: plane.Pt(p.Sheet.Width, p.Sheet.Height)}
		if len(one.Cells) > 0 {
			part = around(p, one.Cells)
		}
		t.Box = s.part(p, part)
		s.Things = append(s.Things, s.laidOut(t))
	}
	if len(s.Things) == 0 {
		s.whole()
	}
}

// around returns the part of the sheet that some boxes fill, and a little round it.
func around(p grid.Plan, cells []string) plane.Rect {
	var ring plane.Ring
	for _, label := range cells {
		if c, ok := p.Find(label); ok {
			ring = append(ring, c.Sheet.Min, c.Sheet.Max)
		}
	}
	if len(ring) == 0 {
		return plane.Rect{Max: plane.Pt(p.Sheet.Width, p.Sheet.Height)}
	}
	box, room := ring.Bounds(), plane.Pt(p.Grid.SheetCell[0], p.Grid.SheetCell[1]).Mul(thingRoom)
	box.Min, box.Max = box.Min.Sub(room), box.Max.Add(room)
	box.Min = plane.Pt(max(0, box.Min.X), max(0, box.Min.Y))
	box.Max = plane.Pt(min(p.Sheet.Width, box.Max.X), min(p.Sheet.Height, box.Max.Y))
	return box
}

// drawing answers with the student's own last measured drawing, seen straight on.
func (a area) drawing(w http.ResponseWriter, r *http.Request, o own) (err error) {
	c, err := a.Store.LastMeasured(r.Context(), o.project.ID, o.student.ID, 0, 0)
	if err != nil {
		return err
	}
	if id := r.FormValue("photo"); id != "" { // an earlier one, of this student alone
		list, err := a.Store.Filmed(r.Context(), o.project.ID, o.student.ID, c.PlanSum)
		i := slices.IndexFunc(list, func(c store.CheckIn) bool { return strconv.FormatUint(c.ID, 10) == id })
		if err != nil || i < 0 {
			return cmp.Or(err, store.ErrNotFound)
		}
		c = list[i]
	}
	if c, err = a.Store.CheckIn(r.Context(), o.project.TeacherID, c.ID); err != nil {
		return err
	}
	return laid(a, w, func() (*image.RGBA, error) {
		return checkin.Straight(r.Context(), a.Store, o.project.TeacherID, o.plan, c, laidSide)
	}, "drawing", c.ID, c.Version, c.PlanSum, *c.Corners)
}

// wanted answers with the picture, laid out as the drawing is.
func (a area) wanted(w http.ResponseWriter, r *http.Request, o own) (err error) {
	if o.picture == nil {
		return store.ErrNotFound
	}
	text, err := grid.Encode(o.plan)
	if err != nil {
		return err
	}
	return laid(a, w, func() (*image.RGBA, error) {
		file, err := a.Store.PictureFile(r.Context(), o.project.TeacherID, o.picture.ID, store.View)
		if err != nil {
			return nil, err
		}
		img, err := intake.Small(r.Context(), file.Bytes, 2*laidSide)
		if err != nil {
			return nil, err
		}
		return photos.Wanted(o.plan, photos.NewShot(img), photos.SheetFrame(o.plan, laidSide)), nil
	}, "wanted", o.picture.ID, string(text))
}

// laid answers with a picture that is laid out once and kept by what it depends on.
func laid(a area, w http.ResponseWriter, lay func() (*image.RGBA, error), parts ...any) error {
	b, err := kit.Once(a.Kit, func() ([]byte, error) {
		img, err := lay()
		if err == nil && img == nil {
			err = store.ErrNotFound
		}
		if err != nil {
			return nil, err
		}
		var jpg bytes.Buffer
		err = jpeg.Encode(&jpg, img, &jpeg.Options{Quality: 82})
		return jpg.Bytes(), err
	}, parts...)
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", "image/jpeg")
	w.Header().Set("Cache-Control", "private, max-age=600") // its address carries the version
	_, err = w.Write(b)
	return err
}
