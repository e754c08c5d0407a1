package checks

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	photos "zestysketch/internal/core/photo"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// table is what the check table shows of one check-in.
type table struct {
	Project   store.Project
	Rail      kit.Rail
	CheckIn   store.CheckIn
	At        moment
	Plan      grid.Plan
	Frame     grid.Frame
	Net       template.HTML // the framed reference with its grid
	Corners   plane.Quad    // where the handles stand
	Landmarks []pin
	Result    result
	Next      string // the address of the next photo to look at, empty for none
}

// pin is a landmark on reference and photo.
type pin struct {
	store.Landmark
	Number int
	At     plane.Point // in pixels of the frame
	Photo  plane.Point // where its pin stands
	Placed bool        // by a person; else the pin stands where it was found, or where it belongs
}

// choice is an option of a landmark's select.
type choice struct {
	Value, Words string
	Chosen       bool
}

// Weights returns the choices of how much a landmark matters.
func (p pin) Weights() []choice {
	return choices(strconv.Itoa(max(1, min(3, p.Weight))), "1", "matters", "2", "matters much", "3", "must be right")
}

// Classes returns the choices of how near a landmark must be.
func (p pin) Classes() []choice {
	return choices(string(p.Class), "critical", "critical · half the limit", "", "usual", "free", "free · never wrong")
}

func choices(chosen string, pairs ...string) (all []choice) {
	for i := 0; i < len(pairs); i += 2 {
		all = append(all, choice{pairs[i], pairs[i+1], pairs[i] == chosen})
	}
	return all
}

// result is what the table says beside the pictures.
type result struct {
	ID      uint64
	Report  *accuracy.Report
	Leaves  []accuracy.Leaves // where lines cross sides elsewhere than the picture's, the worst
	Found   string            // how the corners were found, in words; empty where a hand set them
	Ask     string            // what to do next, where it cannot be measured yet
	Wanted  string            // JSON: landmark to the place in the photo where its pin stands until it is placed
	Slides  string            // JSON: parts that are seen to slide to where they belong; empty for none
	Offer   []string          // boxes that look drawn and are not ticked
	Since   *accuracy.Change
	Before  string // when the photo before was taken in
	Carries bool   // the drawing is carried over later
	Version int
}

// Straight says whether there is a straightened drawing to show.
func (r result) Straight() bool { return r.Report != nil }

func (a area) load(r *http.Request) (store.CheckIn, checkin.Job, error) {
	id, err := kit.ID(r, "checkin")
	if err != nil {
		return store.CheckIn{}, checkin.Job{}, err
	}
	c, err := a.Store.CheckIn(r.Context(), kit.Owner(r), id)
	if err != nil {
		return store.CheckIn{}, checkin.Job{}, err
	}
	j, err := a.jobFor(r, c)
	return c, j, err
}

func (a area) show(w http.ResponseWriter, r *http.Request, c store.CheckIn, j checkin.Job) (err error) {
	if c.Corners != nil && stale(j, c) {
		if err := a.again(r, j, &c); err != nil {
			return err
		}
	}
	view := table{
		Project: j.Project, Rail: kit.NewRail(j.Project, kit.StepCheck),
		CheckIn: c, Plan: j.Plan, Frame: frameOf(j), Corners: startCorners(c),
	}
	if view.Result, err = a.result(r, j, c); err != nil {
		return err
	}
	view.At = newMoment(r, c.CreatedAt)
	if view.Next, err = a.next(r, c); err != nil {
		return err
	}
	var net bytes.Buffer
	address := ""
	if id := j.PictureID(); id != nil {
		address = kit.PicturePath(*id, store.View)
	}
	if err := render.SVGItems(&net, sheet.Bare(j.Plan), func(string) string { return address }); err != nil {
		return err
	}
	view.Net = template.HTML(net.String()) // made of escaped parts by package render
	view.Landmarks = pins(j, c, view.Corners)
	return pages.Whole(w, r, "table.html", c.Student.Name+" · check", view)
}

// again measures a check-in anew and keeps it. Somebody who did so meanwhile
// has the last word.
func (a area) again(r *http.Request, j checkin.Job, c *store.CheckIn) error {
	if err := checkin.Again(r.Context(), a.Store, j, c); err != nil {
		return err
	}
	err := a.Store.Place(r.Context(), c)
	if errors.Is(err, store.ErrConflict) {
		*c, err = a.Store.CheckIn(r.Context(), j.Project.TeacherID, c.ID)
	}
	return err
}

// stale reports whether a check-in must be measured again: its plan changed,
// or there are landmarks that were not looked for yet.
func stale(j checkin.Job, c store.CheckIn) bool {
	if !j.Fresh(c) {
		return true
	}
	if !c.Report.Measured {
		return false
	}
	for _, m := range j.Marks(c) {
		known := slices.ContainsFunc(c.Report.Landmarks, func(o accuracy.Offset) bool { return o.Key == m.Key && o.Reference == m.Reference })
		if m.Photo == nil && !known {
			return true
		}
	}
	return false
}

// next returns the address of the project's next photo to look at: the one
// before this, from the oldest on to the newest; empty where there is no other.
func (a area) next(r *http.Request, c store.CheckIn) (string, error) {
	id, err := a.Store.CheckInBefore(r.Context(), c)
	if err != nil || id == c.ID {
		return "", err
	}
	return checkInPath(id), nil
}

// frameOf returns the frame, or the whole picture where the plan has none.
func frameOf(j checkin.Job) grid.Frame {
	if j.Plan.Frame != nil {
		return *j.Plan.Frame
	}
	w, h := j.Plan.Reference.Width, j.Plan.Reference.Height
	return grid.Frame{Picture: [2]int{int(w), int(h)}, Centre: plane.Pt(w/2, h/2), Size: [2]float64{w, h}}
}

// startCorners returns the check-in's corners, or four a little inside the
// photo's own, to be dragged.
func startCorners(c store.CheckIn) plane.Quad {
	if c.Corners != nil {
		return *c.Corners
	}
	const inset = 0.12
	w, h := float64(c.Picture.Width), float64(c.Picture.Height)
	return plane.Quad{plane.Pt(w*inset, h*inset), plane.Pt(w*(1-inset), h*inset), plane.Pt(w*(1-inset), h*(1-inset)), plane.Pt(w*inset, h*(1-inset))}
}

func pins(j checkin.Job, c store.CheckIn, corners plane.Quad) []pin {
	found := map[string]plane.Point{}
	if c.Report != nil {
		for _, o := range c.Report.Landmarks {
			found[o.Key] = o.Photo
		}
	}
	v, err := j.View(c, corners)
	var all []pin
	for _, l := range j.Landmarks {
		m, ok := j.Mark(l)
		if !ok {
			continue
		}
		at := frameOf(j).FromPicture(plane.Pt(l.X, l.Y))
		p := pin{Landmark: l, Number: len(all) + 1, At: kit.Tenths(at)}
		if at, ok := c.Marks[l.ID]; ok {
			p.Photo, p.Placed = at, true
		} else if at, ok := found[m.Key]; ok {
			p.Photo = kit.Tenths(at)
		} else if err == nil {
			p.Photo = kit.Tenths(accuracy.Wanted(j.Plan, v, []accuracy.Landmark{m})[0])
		}
		all = append(all, p)
	}
	return all
}

// result says what was measured, or what to do next.
func (a area) result(r *http.Request, j checkin.Job, c store.CheckIn) (result, error) {
	out := result{ID: c.ID, Version: c.Version, Report: c.Report}
	if c.Corners == nil || c.Report == nil {
		out.Ask = "Drag the four corners onto the corners of the drawn grid. The magnifier shows the place under your finger."
		return out, nil
	}
	out.Found = foundWords[c.Report.FoundBy]
	out.Wanted = places(pins(j, store.CheckIn{Corners: c.Corners, Report: c.Report, Picture: c.Picture}, *c.Corners))
	out.Slides = slides(c.Report.Parts, j.Plan)
	ticked, err := a.Store.StudentTicks(r.Context(), c.ProjectID, c.StudentID)
	if err != nil {
		return out, err
	}
	out.Offer = unticked(*c.Gist, ticked)
	if !c.Report.Measured { // what is not measured is compared with nothing
		return out, nil
	}
	if j.Picture != nil && j.Plan.Frame != nil {
		read, err := a.Boxes(r.Context(), j.Project, j.Plan, j.Picture)
		if err != nil {
			return out, err
		}
		leaves := c.Report.Crossings(read.Boxes, read.Finest)
		out.Leaves, out.Carries = leaves[:min(len(leaves), mostLeaves)], carries(j.Project.EffectiveRoad())
	}
	earlier, err := a.Store.LastMeasured(r.Context(), c.ProjectID, c.StudentID, c.ID, c.PlanSum)
	if errors.Is(err, store.ErrNotFound) || err == nil && !earlier.Report.Measured {
		return out, nil
	}
	if err != nil {
		return out, err
	}
	since := c.Report.Since(*earlier.Report)
	out.Since, out.Before = &since, kit.Clock(r).Moment(earlier.CreatedAt)
	return out, nil
}

// mostLeaves is how many crossings are said.
const mostLeaves = 6

var foundWords = map[photos.FoundBy]string{
	photos.ByTags:  "Found by its corner tags.",
	photos.ByThree: "Found by three of its corner tags.",
	photos.ByGrid:  "Found by its ruled grid. Look whether the corners are right.",
	photos.ByPaper: "Found by the paper’s edges. Look whether the corners are right.",
}

// places returns, as JSON, where each landmark's pin stands in the photo.
func places(all []pin) string {
	at := map[uint64]plane.Point{}
	for _, p := range all {
		at[p.ID] = p.Photo
	}
	b, err := json.Marshal(at)
	if err != nil {
		return "{}" // numbers and a map of them: cannot happen
	}
	return string(b)
}

// place keeps where corners and pins stand and answers with what that measures.
func (a area) place(w http.ResponseWriter, r *http.Request, c store.CheckIn, j checkin.Job) (err error) {
	before := result{ID: c.ID, Version: c.Version}
	seen, err := strconv.Atoi(r.FormValue("version"))
	if err != nil {
		return kit.Ask("The places did not arrive whole. Move one of them again.")
	}
	c.Version = seen
	if err := a.replace(r, j, &c); err != nil {
		var t kit.Trouble
		if !errors.As(err, &t) {
			return err
		}
		before.Ask = t.Message
		return pages.Part(w, r, "table.html", "result", http.StatusUnprocessableEntity, before)
	}
	if err := a.Store.Place(r.Context(), &c); err != nil {
		return err
	}
	out, err := a.result(r, j, c)
	if err != nil {
		return err
	}
	return pages.Part(w, r, "table.html", "result", http.StatusOK, out)
}

// replace reads where things stand now and measures what that changes: pins
// alone are quickly reckoned, moved corners have the photo measured again.
func (a area) replace(r *http.Request, j checkin.Job, c *store.CheckIn) error {
	old := c.Corners
	if err := readPlaces(r, c, j); err != nil {
		return kit.Ask("%s", kit.Sentence(err.Error()))
	}
	switch {
	case c.Corners == nil:
		return nil
	case old == nil || *old != *c.Corners || stale(j, *c):
		return checkin.Again(r.Context(), a.Store, j, c)
	}
	report, err := c.Report.Remark(j.Plan, j.Marks(*c))
	if err != nil {
		return kit.Ask("%s", kit.Said(err))
	}
	c.Settle(report)
	return nil
}

// readPlaces reads the corners, if they were moved, and every placed pin.
func readPlaces(r *http.Request, c *store.CheckIn, j checkin.Job) error {
	if text := r.FormValue("corners"); text != "" {
		corners, err := accuracy.ParseCorners(text)
		if err != nil {
			return err
		}
		for _, at := range corners {
			if at.X < 0 || at.Y < 0 || at.X > float64(c.Picture.Width) || at.Y > float64(c.Picture.Height) {
				return fmt.Errorf("a corner lies outside the photo, at %g, %g; put it on the photo", at.X, at.Y)
			}
		}
		c.Corners = &corners
	}
	marks := map[uint64]plane.Point{}
	known := map[uint64]bool{}
	for _, l := range j.Landmarks {
		known[l.ID] = true
	}
	for _, entry := range strings.Fields(r.FormValue("marks")) {
		name, place, _ := strings.Cut(entry, ":")
		id, err := strconv.ParseUint(name, 10, 63)
		if err != nil || len(marks) >= mostLandmarks {
			return errors.New("the pins did not arrive whole; move one of them again")
		}
		at, err := accuracy.ParsePlace(place)
		if err != nil {
			return err
		}
		if known[id] {
			marks[id] = at
		}
	}
	c.Marks = marks
	return nil
}
