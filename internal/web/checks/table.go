package checks

import (
	"bytes"
	"encoding/json"
	"errors"
	"html/template"
	"image/jpeg"
	"math"
	"net/http"
	"strconv"
	"strings"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
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
	Plan      grid.Plan
	Frame     grid.Frame
	Net       template.HTML // the framed reference with its grid
	Corners   [4][2]float64 // where the handles stand
	Landmarks []pin
	Result    result
}

// pin is a landmark on reference and photo.
type pin struct {
	store.Landmark
	Number int
	At     [2]float64 // in pixels of the frame
	Photo  [2]float64 // where its pin stands
	Placed bool       // by a person; else the pin stands where the point belongs
}

// Weights returns the choices of how much a landmark matters.
func (p pin) Weights() []weight {
	all := []weight{{1, "matters", false}, {2, "matters much", false}, {3, "must be right", false}}
	all[max(1, min(3, p.Weight))-1].Chosen = true
	return all
}

type weight struct {
	Value  int
	Words  string
	Chosen bool
}

// result is what the table says beside the pictures.
type result struct {
	ID      uint64
	Report  *accuracy.Report
	Ask     string // what to do next, where it cannot be measured yet
	Wanted  string // JSON: landmark to the place where it belongs in the photo
	Version int
}

// Straight says whether there is a straightened drawing to show.
func (r result) Straight() bool { return r.Wanted != "" }

func (a area) load(r *http.Request) (store.CheckIn, job, error) {
	id, err := kit.ID(r, "checkin")
	if err != nil {
		return store.CheckIn{}, job{}, err
	}
	c, err := a.Store.CheckIn(r.Context(), kit.Teacher(r).ID, id)
	if err != nil {
		return store.CheckIn{}, job{}, err
	}
	j, err := a.job(r, c.ProjectID, c.StudentID)
	return c, j, err
}

func (a area) show(w http.ResponseWriter, r *http.Request) error {
	c, j, err := a.load(r)
	if err != nil {
		return err
	}
	view := table{
		Project: j.project, Rail: kit.Rail{Project: j.project, Here: kit.StepCheck, Planned: true},
		CheckIn: c, Plan: j.plan, Frame: frameOf(j), Corners: startCorners(c), Result: j.result(c),
	}
	var net bytes.Buffer
	address := ""
	if j.picture != nil {
		address = kit.PicturePath(*j.picture, store.View)
	}
	if err := render.SVGItems(&net, sheet.Bare(j.plan), func(string) string { return address }); err != nil {
		return err
	}
	view.Net = template.HTML(net.String()) // made of escaped parts by package render
	view.Landmarks = j.pins(c, view.Corners)
	return pages.Whole(w, r, "table.html", c.Student.Name+" · check", view)
}

// frameOf returns the frame, or the whole picture where the plan has none.
func frameOf(j job) grid.Frame {
	if j.plan.Frame != nil {
		return *j.plan.Frame
	}
	w, h := j.plan.Reference.Width, j.plan.Reference.Height
	return grid.Frame{Picture: [2]int{int(w), int(h)}, Centre: [2]float64{w / 2, h / 2}, Size: [2]float64{w, h}}
}

// startCorners returns the check-in's corners, or four a little inside the
// photo's own, to be dragged.
func startCorners(c store.CheckIn) [4][2]float64 {
	if c.Corners != nil {
		return *c.Corners
	}
	const inset = 0.12
	w, h := float64(c.Picture.Width), float64(c.Picture.Height)
	return [4][2]float64{{w * inset, h * inset}, {w * (1 - inset), h * inset}, {w * (1 - inset), h * (1 - inset)}, {w * inset, h * (1 - inset)}}
}

func (j job) pins(c store.CheckIn, corners [4][2]float64) []pin {
	var shown []store.Landmark
	var marks []accuracy.Landmark
	for _, l := range j.landmarks {
		if m, ok := kit.MarkOn(j.plan, l); ok {
			shown, marks = append(shown, l), append(marks, m)
		}
	}
	wanted, err := accuracy.Wanted(j.plan, corners, marks)
	pins := make([]pin, len(shown))
	for i, l := range shown {
		at := frameOf(j).FromPicture(grid.Point{X: l.X, Y: l.Y})
		pins[i] = pin{Landmark: l, Number: i + 1, At: round([2]float64{at.X, at.Y})}
		if at, ok := c.Marks[l.ID]; ok {
			pins[i].Photo, pins[i].Placed = at, true
		} else if err == nil {
			pins[i].Photo = round(wanted[i])
		}
	}
	return pins
}

func round(at [2]float64) [2]float64 {
	return [2]float64{math.Round(at[0]*10) / 10, math.Round(at[1]*10) / 10}
}

// result measures what can be measured, or says what to do next.
func (j job) result(c store.CheckIn) result {
	out := result{ID: c.ID, Version: c.Version}
	if c.Corners == nil {
		out.Ask = "Drag the four corners onto the corners of the drawn grid."
		return out
	}
	out.Wanted = j.wanted(*c.Corners)
	report, err := accuracy.Check(j.plan, *c.Corners, kit.Placed(j.plan, c, j.landmarks), j.tolerance())
	switch {
	case err == nil:
		out.Report = &report
	case errors.Is(err, accuracy.ErrLandmarks) && len(j.landmarks) < 3:
		out.Ask = "Add three or more landmarks on the picture: corners, tips and crossings worth getting right."
	case errors.Is(err, accuracy.ErrLandmarks):
		out.Ask = "Drag each numbered pin to where the student drew that point. Press Enter on a pin that is right already."
	default:
		out.Ask = kit.Sentence(err.Error())
	}
	return out
}

// wanted returns, as JSON, where each landmark belongs in the photo.
func (j job) wanted(corners [4][2]float64) string {
	places := map[uint64][2]float64{}
	for _, p := range j.pins(store.CheckIn{}, corners) {
		places[p.ID] = p.Photo
	}
	b, err := json.Marshal(places)
	if err != nil {
		return "{}" // numbers and a map of them: cannot happen
	}
	return string(b)
}

// place keeps where corners and pins stand and answers with what that measures.
func (a area) place(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	c, j, err := a.load(r)
	if err != nil {
		return err
	}
	before := result{ID: c.ID, Version: c.Version}
	if c.Version, err = strconv.Atoi(r.FormValue("version")); err != nil {
		return kit.Ask("The places did not arrive whole. Move one of them again.")
	}
	if err := readPlaces(r, &c, j); err != nil {
		before.Ask = kit.Sentence(err.Error())
		return pages.Part(w, r, "table.html", "result", http.StatusUnprocessableEntity, before)
	}
	if err := a.Store.Place(r.Context(), &c); err != nil {
		return err
	}
	return pages.Part(w, r, "table.html", "result", http.StatusOK, j.result(c))
}

// readPlaces reads the corners, if they were moved, and every placed pin.
func readPlaces(r *http.Request, c *store.CheckIn, j job) error {
	if text := r.FormValue("corners"); text != "" {
		corners, err := accuracy.ParseCorners(text)
		if err != nil {
			return err
		}
		c.Corners = &corners
	}
	marks := map[uint64][2]float64{}
	known := map[uint64]bool{}
	for _, l := range j.landmarks {
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

// straightSide is the longer side of the straightened drawing, in pixels.
const straightSide = 1200

// straight answers with the drawing seen straight on.
func (a area) straight(w http.ResponseWriter, r *http.Request) error {
	c, j, err := a.load(r)
	if err != nil {
		return err
	}
	if c.Corners == nil {
		return store.ErrNotFound
	}
	file, err := a.Store.PictureFile(r.Context(), j.project.TeacherID, c.PictureID, store.Full)
	if err != nil {
		return err
	}
	img, err := picture.Decode(file.Bytes)
	if err != nil {
		return err
	}
	k := straightSide / max(j.plan.Sheet.Width, j.plan.Sheet.Height)
	out, err := picture.Rectify(img, accuracy.Corners(*c.Corners), max(1, int(j.plan.Sheet.Width*k)), max(1, int(j.plan.Sheet.Height*k)))
	if err != nil {
		return kit.Ask("%s", kit.Sentence(err.Error()))
	}
	var jpg bytes.Buffer
	if err := jpeg.Encode(&jpg, out, &jpeg.Options{Quality: 85}); err != nil {
		return err
	}
	w.Header().Set("Content-Type", "image/jpeg")
	_, err = w.Write(jpg.Bytes())
	return err
}
