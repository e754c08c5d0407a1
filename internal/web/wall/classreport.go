package wall

import (
	"bytes"
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strconv"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"

	"github.com/xuri/excelize/v2"
)

// extra is what to give to students who are early.
type extra struct {
	Idea     string
	Students []store.Student
}

// classView is the class's report.
type classView struct {
	Papers   []kit.Option
	Project  store.Project
	Rail     kit.Rail
	Head     []string
	Rows     []classRow
	Plot     template.HTML
	Growth   []template.HTML // of the class's exercises of the eye
	Trained  bool
	Left     string
	Extra    []extra // who is early, and what to give them
	Struggle []need  // who will not finish
	Measured bool    // some objectives are tied to what is measured
	Plates   []plate
	Goals    []goalRow
	Hung     []store.CheckIn // the latest drawing of each student that was found on a photo
}

// plate is a figure of the class at one look.
type plate struct{ Figure, Words string }

// goalRow is an objective, and how many have reached it.
type goalRow struct {
	lesson.Objective
	Reached, Of int
}

// plates are the class's figures: how far it is, how many are done, how exact it draws.
func (t table) plates(latest []store.CheckIn) (list []plate) {
	done, all, finished := 0, 0, 0
	for _, s := range t.Students {
		n, of := len(t.Done(s.ID)), t.Plans.Count(s.ID)
		done, all = done+n, all+of
		if n == of && of > 0 {
			finished++
		}
	}
	if all > 0 {
		list = append(list, plate{fmt.Sprintf("%d %%", 100*done/all), fmt.Sprintf("%d of %d %s", done, all, t.Road.Unit().Many)})
	}
	list = append(list, plate{fmt.Sprintf("%d of %d", finished, len(t.Students)), "have finished"})
	right, of, drawings := 0, 0, 0
	for _, c := range latest {
		if c.Gist != nil && c.Gist.Measured {
			r, n := c.Gist.Right()
			right, of, drawings = right+r, of+n, drawings+1
		}
	}
	if of > 0 {
		list = append(list, plate{fmt.Sprintf("%d %%", 100*right/of), fmt.Sprintf("of measured boxes in their places, %d drawings", drawings)})
	}
	return list
}

// goals are the road's objectives with how many of the class reached each.
func (t table) goals() (rows []goalRow) {
	for _, o := range t.Road.Goals() {
		row := goalRow{Objective: o, Of: len(t.Students)}
		for _, s := range t.Students {
			if t.learnt.Reached[s.ID][o.Code] {
				row.Reached++
			}
		}
		rows = append(rows, row)
	}
	return rows
}

// latestOf returns the newest found photo of each student who is here, in their order.
func (t table) latestOf(all []store.CheckIn) (list []store.CheckIn) {
	for _, s := range t.Students {
		if i := slices.IndexFunc(all, func(c store.CheckIn) bool { return c.StudentID == s.ID && c.Corners != nil }); i >= 0 { // they come the newest first
			list = append(list, all[i])
		}
	}
	return list
}

type classRow struct {
	ID    uint64
	Cells []string
}

var classHead = []string{"Student", "Boxes", "Of", "Minutes a box", "Minutes to go", "from", "to", "Prospect", "Stage", "Photos", "Reached", "Notes", "Exercises"}

// table is a class at work with what its report counts beside.
type table struct {
	*room.Room
	photos map[uint64]int
	learnt store.Learnt
	notes  map[uint64][]store.Note
}

func (a area) loadTable(r *http.Request) (t table, err error) {
	if t.Room, err = a.load(r); err != nil {
		return t, err
	}
	if t.photos, err = a.Store.CountCheckIns(r.Context(), t.Project.ID); err != nil {
		return t, err
	}
	if t.learnt, err = a.Store.Learnt(r.Context(), t.Project.ID); err != nil {
		return t, err
	}
	t.notes, err = a.notesOf(r.Context(), t.Project.ID)
	return t, err
}

// rows are the class's report as a table.
func (t table) rows() (rows []classRow) {
	trained := trainedBy(t.learnt.Trained)
	for _, s := range t.Students {
		forecast, left := t.Forecast(s.ID)
		minutes := func(v float64) string {
			if left > 0 && !t.Told(s.ID) {
				return ""
			}
			return strconv.FormatFloat(v, 'f', 0, 64)
		}
		prospect := ""
		if h := t.Help(s.ID); h != nil {
			prospect = string(h.Prospect)
		}
		rows = append(rows, classRow{s.ID, []string{s.Name, strconv.Itoa(len(t.Done(s.ID))), strconv.Itoa(t.Plans.Count(s.ID)), strconv.FormatFloat(t.Pace(s.ID).PerBox(), 'f', 1, 64),
			minutes(forecast.Middle), minutes(forecast.Low), minutes(forecast.High), prospect, t.Place(s.ID).Stage.Name(),
			strconv.Itoa(t.photos[s.ID]), strconv.Itoa(len(t.learnt.Reached[s.ID])), strconv.Itoa(len(t.notes[s.ID])), strconv.Itoa(len(trained[s.ID]))}})
	}
	return rows
}

func (a area) classReport(w http.ResponseWriter, r *http.Request, work table) (err error) {
	v := classView{Papers: kit.PaperOptions(kit.PaperOf(r, work.Plans.Class.Units)), Project: work.Project,
		Rail: kit.NewRail(work.Project, kit.StepDraw), Head: classHead, Rows: work.rows()}
	if left, known := work.MinutesLeft(); known {
		v.Left = fmt.Sprintf("%.0f minutes of drawing are left.", left)
	}
	for _, s := range work.Students {
		h := work.Help(s.ID)
		if h == nil {
			continue
		}
		switch {
		case h.Prospect.Short():
			v.Struggle = append(v.Struggle, need{s, h.Ideas[0]})
		case h.Prospect == lesson.Early || h.Prospect == lesson.Finished:
			v.give(s, h.Ideas[0])
		}
	}
	if v.Plot, err = kit.InlineSVG(sheet.BurnDown(work.BurnDown(), len(work.Lessons)), nil); err != nil {
		return err
	}
	if v.Growth, err = kit.ClassGrowth(work.Clock, work.learnt.Trained); err != nil {
		return err
	}
	all, err := a.Store.CheckIns(r.Context(), work.Project)
	if err != nil {
		return err
	}
	v.Hung = work.latestOf(all)
	v.Plates, v.Goals = work.plates(v.Hung), work.goals()
	v.Trained = len(work.learnt.Trained) > 0
	v.Measured = slices.ContainsFunc(work.Road.Goals(), func(o lesson.Objective) bool { return o.Measure != lesson.ByEye })
	return pages.Whole(w, r, "classreport.html", work.Project.Name+" · report", v)
}

// give adds a student to those who get the same to do.
func (v *classView) give(s store.Student, idea string) {
	at := slices.IndexFunc(v.Extra, func(e extra) bool { return e.Idea == idea })
	if at < 0 {
		at, v.Extra = len(v.Extra), append(v.Extra, extra{Idea: idea})
	}
	v.Extra[at].Students = append(v.Extra[at].Students, s)
}

// reportCSV answers with the table as CSV.
func (a area) reportCSV(w http.ResponseWriter, r *http.Request, work table) error {
	rows := [][]string{classHead}
	for _, row := range work.rows() {
		rows = append(rows, row.Cells)
	}
	return kit.SendCSV(w, work.Project.Name+" report", rows)
}

// reportXLSX answers with the table as a workbook, numbers as numbers.
func (a area) reportXLSX(w http.ResponseWriter, r *http.Request, work table) error {
	book := excelize.NewFile()
	defer book.Close()
	rows := [][]string{classHead}
	for _, row := range work.rows() {
		rows = append(rows, row.Cells)
	}
	if err := fill(book, "Sheet1", rows); err != nil {
		return err
	}
	const eyes = "Eye training"
	if _, err := book.NewSheet(eyes); err != nil {
		return err
	}
	if err := fill(book, eyes, work.trainingRows()); err != nil {
		return err
	}
	var out bytes.Buffer
	if err := book.Write(&out); err != nil {
		return err
	}
	return kit.SendFile(w, work.Project.Name+" report", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "xlsx", out.Bytes())
}
