// Package wall shows the room at work: a tile per student with a map of boxes
// done, who needs the teacher first, and one student's desk.
package wall

import (
	"cmp"
	"embed"
	"errors"
	"html/template"
	"maps"
	"math"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/plans"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

//go:embed *.html
var files embed.FS

var pages = kit.NewPages(files)

type area struct {
	*kit.Kit
}

// Routes adds the area's addresses.
func Routes(r kit.Routes, k *kit.Kit) {
	a := area{k}
	r.Get("/projects/{project}/wall", store.ToLook, kit.NoAudit, kit.With(a.load, a.show))
	r.Get("/projects/{project}/wall/live", store.ToLook, kit.NoAudit, kit.With(a.Project, a.live))
	r.Get("/projects/{project}/lesson.pdf", store.ToLook, "got a lesson sheet", kit.With(a.load, a.lessonPDF))
	r.Get("/projects/{project}/projector", store.ToLook, kit.NoAudit, kit.With(a.load, a.projector))
	r.Post("/projects/{project}/class", store.Owns, "let a class draw a project", kit.With(a.Project, a.chooseClass))
	r.Post("/projects/{project}/class/drop", store.Owns, "let a class draw a project no more", kit.With(a.Project, a.dropClass))
	r.Get("/projects/{project}/road", store.ToLook, kit.NoAudit, kit.With(a.Project, a.showRoad))
	r.Post("/projects/{project}/road", store.ToOwn, "changed the road", kit.With(a.Project, a.setRoad))
	r.Post("/projects/{project}/road/take", store.ToOwn, "changed the road", kit.With(a.Project, a.takeRoad))
	r.Post("/projects/{project}/road/keep", store.Owns, "kept a road for later", kit.With(a.Project, a.keepRoad))
	r.Post("/projects/{project}/road/drop", store.Owns, "dropped a kept road", kit.With(a.Project, a.dropRoad))
	r.Get("/projects/{project}/students/{student}/desk", store.ToLook, kit.NoAudit, kit.With(a.load, a.desk))
	r.Get("/projects/{project}/wall/tiles", store.ToLook, kit.NoAudit, kit.With(a.load, a.tiles))
	r.Tick("/projects/{project}/students/{student}/ticks", kit.Tick, store.ToCover, "ticked boxes", kit.WithBoth(a.posted, a.tick))
	r.Tick("/projects/{project}/students/{student}/stage", kit.Form, store.ToCover, "ticked a stage", a.stage)
	r.Post("/projects/{project}/students/{student}/verdict", store.ToCover, "gave a verdict", a.verdict)
	r.Post("/projects/{project}/students/{student}/seat", store.ToCover, "marked a hand, a flag or an absence", a.seat)
	r.Post("/projects/{project}/students/{student}/notes", store.ToCover, "wrote a note", a.note)
	r.Post("/projects/{project}/students/{student}/reached", store.ToOwn, "marked an objective", kit.WithBoth(a.posted, a.reached))
	r.Get("/projects/{project}/students/{student}/report", store.ToLook, "saw a student's report", kit.WithBoth(a.reportOf, a.report))
	r.Get("/projects/{project}/students/{student}/report.pdf", store.ToLook, "got a student's report", kit.WithBoth(a.reportOf, a.reportPDF))
	r.Get("/projects/{project}/report", store.ToLook, kit.NoAudit, kit.With(a.loadTable, a.classReport))
	r.Give("/projects/{project}/report.csv", store.ToLook, "exported a class's report", kit.With(a.loadTable, a.reportCSV))
	r.Give("/projects/{project}/report.xlsx", store.ToLook, "exported a class's report", kit.With(a.loadTable, a.reportXLSX))
	r.Take("/projects/{project}/students/{student}/helper", kit.Tick, store.ToCover, "made a link for a helper at home", kit.WithBoth(a.posted, a.helper))
	r.Post("/projects/{project}/begins", store.ToOwn, "said where a class begins", kit.With(a.Project, a.begin))
	r.Tick("/projects/{project}/stage", kit.Form, store.ToCover, "ticked a stage for many", kit.With(a.load, a.stageForMany))
	r.Get("/projects/{project}/round", store.ToLook, kit.NoAudit, kit.With(a.load, a.showRound))
	r.Post("/projects/{project}/students/{student}/part", store.ToOwn, "gave a student a part to draw", a.part)
	r.Post("/projects/{project}/call", store.ToCover, "called to the class", kit.With(a.Project, a.call))
	r.Post("/projects/{project}/reached", store.ToOwn, "marked what was measured as reached", kit.With(a.load, a.reachedAsMeasured))
	r.Post("/projects/{project}/handin", store.ToCover, "said when students hand photos in", kit.With(a.Project, a.setHandIn))
	r.Give("/projects/{project}/training.csv", store.ToLook, "exported a class's report", kit.With(a.loadTable, a.trainingCSV))
	r.Get("/projects/{project}/report.pdf", store.ToLook, "got a class's report", kit.With(a.load, a.classPDF))
	r.Get("/projects/{project}/log", store.ToLook, kit.NoAudit, kit.With(a.load, a.showLog))
	r.Take("/projects/{project}/log", kit.Picture, store.ToCover, "wrote in the log", kit.With(a.Project, a.addLog))
	r.Post("/notes/{note}", store.ToCover, "changed or deleted a note", kit.With(kit.IDOf("note"), a.changeNote))
	r.Get("/projects/{project}/materials", store.ToLook, kit.NoAudit, kit.WithBoth(a.Planned, a.materials))
	r.Post("/projects/{project}/materials", store.ToOwn, "changed the cupboard", kit.WithBoth(a.Planned, a.setStock))
}

// view is what the wall shows.
type view struct {
	Project  store.Project
	Rail     kit.Rail
	Tiles    []tile
	Desk     *desk
	Classes  []store.ClassChoice // to a colleague those alone that draw this
	Own      bool
	Calendar bool
	Order    string         // how the tiles stand, in words
	Groups   bool           // some have one
	Seats    bool           // some have one
	Seated   bool           // the tiles stand as the class sits
	Teams    []string       // the groups, by name
	Stages   []lesson.Stage // of the road, to be set for many
	Today    lesson.StageID // the stage that is likely meant: where most are, or the next where nobody has begun
	Begins   string         // the stage at which students begin, where it is not the first
	Made     int64          // when, in milliseconds since 1970
	First    []need         // who needs the teacher, the first few
	Called   called
	Most     lesson.Stage // where most of the class is
}

// Drawing returns the walls of the classes that draw this, where there are several.
func (v view) Drawing() *kit.Tabs {
	t := kit.Tabs{Label: "Classes"}
	for _, c := range v.Classes {
		if c.Drawing {
			one := store.Project{ID: v.Project.ID, Chosen: c.ID}
			t.All = append(t.All, kit.Tab{Name: c.Name, Path: kit.ProjectPath(one) + "/wall", Here: v.Project.ClassID != nil && *v.Project.ClassID == c.ID})
		}
	}
	if len(t.All) < 2 {
		return nil
	}
	return &t
}

// need is a student to go to, and why.
type need struct {
	store.Student
	Reason string
}

// tile is one student's progress.
type tile struct {
	Project   string // its key
	Student   store.Student
	Rows      []row
	Columns   []string
	Width     int // of the map's drawing, in tenths of a box
	Height    int
	Unit      lesson.Unit // what is counted
	Named     bool        // parts with names, a row each
	Done, All int
	Head      string // of the group that begins with it
	Shown     bool
	Reason    string
	Now       bool // they need the teacher now
	Hand      bool
	Twice     bool // the student's page is open on two tablets
	Absent    bool
	Place     lesson.Place
}

type row struct {
	Head  string
	Boxes []box
}

type box struct {
	Label string
	Done  bool
	Out   bool // it is not of the part that the student draws
}

// Map draws the boxes small. A wall has thousands of them, so they are written
// here and not by the template; a label is letters and digits and needs no escaping.
func (t tile) Map() template.HTML {
	var b []byte
	for row, r := range t.Rows {
		for column, box := range r.Boxes {
			x, y := column, row
			if t.Named {
				x, y = row%(t.Width/10), row/(t.Width/10)
			}
			b = strconv.AppendInt(append(b, `<rect x="`...), int64(10*x), 10)
			b = strconv.AppendInt(append(b, `" y="`...), int64(10*y), 10)
			b = append(append(append(b, `" width="10" height="10" data-label="`...), box.Label...), '"')
			switch {
			case box.Out:
				b = append(b, ` class="out"`...)
			case box.Done:
				b = append(b, ` class="on"`...)
			}
			b = append(b, "/>"...)
		}
	}
	return template.HTML(b)
}

func (a area) newTile(w *room.Room, s store.Student, needs lesson.Need) tile {
	plan, done, seat := w.Plans.Of(s.ID), w.Done(s.ID), w.Seats[s.ID]
	t := tile{Project: w.Project.Key(), Student: s, All: w.Plans.Count(s.ID), Done: len(done), Width: 10 * plan.Grid.Columns, Height: 10 * plan.Grid.Rows,
		Reason: needs.Reason, Now: needs.Now, Hand: seat.HandAt != nil, Absent: seat.Absent, Twice: a.Tablets.Twice(w.Project.ID, s.ID, time.Now()), Place: w.Place(s.ID), Unit: w.Road.Unit()}
	if parts := w.Plans.Parts(); parts != nil {
		across := int(math.Ceil(math.Sqrt(float64(len(parts)))))
		t.Named, t.Width, t.Height = true, 10*across, 10*((len(parts)+across-1)/across)
		for _, p := range parts {
			t.Rows = append(t.Rows, row{p.Name, []box{{Label: p.Label, Done: done[p.Label]}}})
		}
		return t
	}
	for c := range plan.Grid.Columns {
		t.Columns = append(t.Columns, plan.Grid.Labels.Column(c))
	}
	for y := range plan.Grid.Rows {
		t.Rows = append(t.Rows, row{plan.Grid.Labels.Row(y), make([]box, 0, plan.Grid.Columns)})
	}
	counts := w.Plans.Counter(s.ID)
	for _, cell := range w.Cells(s.ID) {
		r := &t.Rows[cell.Row]
		r.Boxes = append(r.Boxes, box{cell.Label, done[cell.Label], !counts(cell.Label)})
	}
	return t
}

// needs returns why students need the teacher.
func needs(w *room.Room) map[uint64]lesson.Need {
	by := map[uint64]lesson.Need{}
	for _, n := range w.Needs() {
		by[n.ID] = n
	}
	return by
}

// firstOf returns who needs the teacher first, the first few.
func firstOf(w *room.Room) (first []need) {
	for _, n := range w.Needs() {
		if s, err := w.Student(n.ID); err == nil && n.Now && len(first) < shownFirst {
			first = append(first, need{s, n.Reason})
		}
	}
	return first
}

// shownFirst is how many names the line above the wall has.
const shownFirst = 4

func (a area) show(w http.ResponseWriter, r *http.Request, work *room.Room) (err error) {
	p := work.Project
	v := view{Project: p, Rail: kit.NewRail(p, kit.StepDraw), Calendar: len(work.Lessons) > 0, Made: work.Now.UnixMilli()}
	if kit.MayCover(r) {
		if err := a.Store.Touch(r.Context(), p); err != nil {
			return err
		}
	}
	if v.Classes, err = a.Store.ClassChoices(r.Context(), p.TeacherID, p.ID); err != nil {
		return err
	}
	if v.Own = kit.Owns(r); !v.Own {
		v.Classes = slices.DeleteFunc(v.Classes, func(c store.ClassChoice) bool { return !c.Drawing })
	}
	if v.Called, err = a.calledNow(r, p); err != nil {
		return err
	}
	v.Most = mostAt(work)
	wanted, _ := strconv.ParseUint(r.URL.Query().Get("student"), 10, 63)
	if err := a.fill(r, &v, work, wanted, r.URL.Query().Get("order")); err != nil {
		return err
	}
	return pages.Whole(w, r, "wall.html", p.Name+" · wall", v)
}

// fill lays out the tiles, who needs the teacher first before the others where
// no other order is wanted, and the desk of one student.
func (a area) fill(r *http.Request, v *view, work *room.Room, wanted uint64, order string) error {
	needs, place := slices.Clone(work.Needs()), map[uint64]int{}
	teams := map[string]bool{}
	for i, s := range work.Students { // by name
		place[s.ID], teams[s.Team], v.Seats = i, true, v.Seats || s.SeatRow != nil
	}
	delete(teams, "")
	if begins, known := work.Road.Find(work.Road.Begins); known {
		v.Begins = begins.Name()
	}
	v.First, v.Stages, v.Teams, v.Groups = firstOf(work), work.Road.On(), slices.Sorted(maps.Keys(teams)), len(teams) > 0
	v.Order = map[string]string{"names": "By name", "groups": "By group", "seats": "By seat"}[order]
	v.Order = cmp.Or(v.Order, "By need")
	switch order {
	case "names":
		slices.SortStableFunc(needs, func(a, b lesson.Need) int { return place[a.ID] - place[b.ID] })
	case "seats":
		slices.SortStableFunc(needs, func(a, b lesson.Need) int {
			return cmp.Or(store.BySeat(work.Students[place[a.ID]], work.Students[place[b.ID]]), place[a.ID]-place[b.ID])
		})
		v.Seated = true
	case "groups":
		team := func(n lesson.Need) string { return work.Students[place[n.ID]].Team }
		slices.SortStableFunc(needs, func(a, b lesson.Need) int {
			return cmp.Or(strings.Compare(team(a), team(b)), place[a.ID]-place[b.ID])
		})
	}
	for _, n := range needs {
		s := work.Students[place[n.ID]]
		v.Tiles = append(v.Tiles, a.newTile(work, s, n))
		if order == "groups" && s.Team != "" && (len(v.Tiles) == 1 || v.Tiles[len(v.Tiles)-2].Student.Team != s.Team) {
			v.Tiles[len(v.Tiles)-1].Head = s.Team
		}
	}
	if len(v.Tiles) == 0 {
		return nil
	}
	v.Today = v.today()
	shown := max(0, slices.IndexFunc(v.Tiles, func(t tile) bool { return t.Student.ID == wanted }))
	v.Tiles[shown].Shown = true
	d, err := a.deskOf(r, work, v.Tiles[shown])
	v.Desk = &d
	return err
}

// today returns the stage that somebody likely means who sets one for many.
func (v view) today() (stage lesson.StageID) {
	at, begun := map[lesson.StageID]int{}, false
	for _, t := range v.Tiles {
		if at[t.Place.Stage.ID]++; at[t.Place.Stage.ID] > at[stage] {
			stage = t.Place.Stage.ID
		}
		begun = begun || t.Done > 0 || t.Place.Number > 1
	}
	i := slices.IndexFunc(v.Stages, func(s lesson.Stage) bool { return s.ID == stage })
	if !begun && i >= 0 && i+1 < len(v.Stages) {
		return v.Stages[i+1].ID
	}
	return stage
}

func (a area) chooseClass(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	class, err := a.Chosen(r)
	if err != nil {
		return err
	}
	if class == nil {
		return kit.Ask("Choose a class from the list, or make one under Classes.")
	}
	if err := a.Store.SetClass(r.Context(), p.TeacherID, p.ID, *class); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(store.Project{ID: p.ID, Chosen: *class})+"/wall")
}

// dropClass lets the class shown draw the project no more.
func (a area) dropClass(w http.ResponseWriter, r *http.Request, p store.Project) error {
	if p.ClassID == nil {
		return store.ErrNotFound
	}
	if err := a.Store.DropClass(r.Context(), p.TeacherID, p.ID, *p.ClassID); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(store.Project{ID: p.ID})+"/wall")
}

// tiles answers with the tiles of the students named, for walls that were told
// of changes.
func (a area) tiles(w http.ResponseWriter, r *http.Request, work *room.Room) error {
	why, v := needs(work), view{Project: work.Project, First: firstOf(work)}
	for _, s := range work.Students {
		if slices.Contains(r.URL.Query()["student"], strconv.FormatUint(s.ID, 10)) {
			v.Tiles = append(v.Tiles, a.newTile(work, s, why[s.ID]))
		}
	}
	return pages.Part(w, r, "wall.html", "tiles", http.StatusOK, v)
}

// tick saves one box, or a row of them, done or not, and answers with the
// student's tile.
func (a area) tick(w http.ResponseWriter, r *http.Request, work *room.Room, s store.Student) (err error) {
	done, known := map[string]bool{"1": true, "0": false}[r.FormValue("on")]
	p, shown := work.Project, kit.ShownPlan(r)
	labels, ok := labelsOf(work.Plans, s.ID, r)
	if shown != p.PlanVersion && plans.Has(r.Context(), a.Store, p, work.Plans, s.ID, shown, r.FormValue("label")) {
		labels, ok = []string{r.FormValue("label")}, true
	}
	if !ok || !known {
		return kit.Ask("That box is not in the present plan. Open the wall again to see the new grid.")
	}
	err = plans.Tick(r.Context(), a.Store, p, work.Plans, s.ID, shown, labels, done, kit.TickedAt(r))
	if errors.Is(err, plans.ErrOlder) {
		return kit.Ask("The grid has changed since. Open the wall again to see the new one.")
	}
	if err != nil {
		return err
	}
	if !kit.IsFragment(r) {
		return kit.Go(w, r, path(p, s.ID))
	}
	if work, err = a.Rooms.Load(r.Context(), p, work.Clock, work.Now); err != nil {
		return err
	}
	return pages.Part(w, r, "wall.html", "tile", http.StatusOK, a.newTile(work, s, needs(work)[s.ID]))
}

// labelsOf returns the box that a form names, or those of the row it names.
func labelsOf(set plans.Set, student uint64, r *http.Request) (labels []string, ok bool) {
	label := r.FormValue("label")
	if !set.Counts(student, label) {
		return nil, false
	}
	if lesson.IsPart(label) {
		return []string{label}, true
	}
	plan := set.Of(student)
	cell, _ := plan.Find(label)
	if r.FormValue("row") == "" {
		return []string{cell.Label}, true
	}
	for column := range plan.Grid.Columns {
		if l := plan.Cell(column, cell.Row).Label; set.Counts(student, l) {
			labels = append(labels, l)
		}
	}
	return labels, true
}
