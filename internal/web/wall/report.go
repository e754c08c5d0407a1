package wall

import (
	"bytes"
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// reportView is one student's report.
type reportView struct {
	Project    store.Project
	Rail       kit.Rail
	Student    store.Student
	Done, All  int
	Entries    []sheet.Entry
	Objectives []objectiveView
	Photos     []store.CheckIn
	Progress   template.HTML // a plot of accuracy over all projects; empty before two photos
	Path       string
}

type objectiveView struct {
	lesson.Objective
	Reached bool
}

// reported is all that reports need beside a class at work.
type reported struct {
	atWork
	reached  map[uint64]map[string]bool
	checkIns []store.CheckIn
	notes    map[uint64][]store.Note
}

func (a area) loadReport(r *http.Request) (w reported, err error) {
	if w.atWork, err = a.load(r); err != nil {
		return w, err
	}
	if w.reached, err = a.Store.Reached(r.Context(), w.project.ID); err != nil {
		return w, err
	}
	if w.checkIns, err = a.Store.CheckIns(r.Context(), w.project.ID); err != nil {
		return w, err
	}
	notes, err := a.Store.Notes(r.Context(), w.project.ID, 0, "")
	w.notes = map[uint64][]store.Note{}
	for _, n := range notes {
		if n.StudentID != nil {
			w.notes[*n.StudentID] = append(w.notes[*n.StudentID], n)
		}
	}
	return w, err
}

// view writes one student's report.
func (w *reported) view(a area, r *http.Request, s store.Student) (v reportView, err error) {
	plan, done := w.plans.Of(s.ID), w.done(s.ID)
	v = reportView{Project: w.project, Rail: kit.Rail{Project: w.project, Here: kit.StepDraw, Planned: true}, Student: s, Done: len(done), All: plan.Count(),
		Path: fmt.Sprintf("%s/students/%d", kit.ProjectPath(w.project.ID), s.ID)}
	progress := []string{fmt.Sprintf("%d of %d boxes drawn", v.Done, v.All)}
	if p := w.pace.Students[s.ID]; p.Boxes > 0 {
		progress = append(progress, fmt.Sprintf("about %.1f minutes a box", p.PerBox()))
	}
	if h := w.help(s.ID); h != nil {
		progress = append(progress, kit.Sentence(string(h.Prospect)+": "+h.Why))
	}
	place := w.place(s.ID)
	progress = append(progress, fmt.Sprintf("on the road: %d of %d, %s", place.Number, place.Of, place.Stage.Name()))
	v.Entries = append(v.Entries, sheet.Entry{Head: "Progress", Lines: progress})
	verdicts, err := a.Store.Verdicts(r.Context(), w.project.ID, s.ID)
	if err != nil {
		return v, err
	}
	var looked []string
	for _, c := range verdicts {
		line := fmt.Sprintf("%s, %s: %s, %s", c.CreatedAt.Format("2 Jan"), lesson.Stage{Kind: c.Stage}.Name(), c.Verdict, c.ByWhom)
		if c.Note != "" {
			line += " — " + c.Note
		}
		looked = append(looked, line)
	}
	v.Entries = append(v.Entries, sheet.Entry{Head: "Checkpoints", Lines: orNone(looked)})
	v.Entries = append(v.Entries, sheet.Entry{Head: "Measured", Lines: orNone(w.measured(s))})
	if v.Progress, err = a.progress(r, w.project.TeacherID, s.ID); err != nil {
		return v, err
	}
	var reached, notes []string
	for _, o := range lesson.Objectives {
		has := w.reached[s.ID][o.Code]
		v.Objectives = append(v.Objectives, objectiveView{o, has})
		if has {
			reached = append(reached, fmt.Sprintf("%s (%s)", o.Words, o.Level))
		}
	}
	v.Entries = append(v.Entries, sheet.Entry{Head: "Reached", Lines: orNone(reached)})
	for _, n := range w.notes[s.ID] {
		notes = append(notes, n.CreatedAt.Format("2 Jan")+": "+n.Words)
	}
	v.Entries = append(v.Entries, sheet.Entry{Head: "Notes", Lines: orNone(notes)})
	for _, c := range w.checkIns {
		if c.StudentID == s.ID {
			v.Photos = append(v.Photos, c)
		}
	}
	return v, nil
}

func orNone(lines []string) []string {
	if lines == nil {
		return []string{"nothing yet"}
	}
	return lines
}

// measured is what the student's photos say, the newest first.
func (w *reported) measured(s store.Student) (lines []string) {
	for _, c := range w.checkIns {
		if c.StudentID != s.ID || c.Report == nil {
			continue
		}
		var parts []string
		if right, of := c.Report.Right(); of > 0 {
			parts = append(parts, fmt.Sprintf("%d of %d boxes in their places", right, of))
		}
		within, placed := 0, 0
		for _, l := range c.Report.Landmarks {
			if l.Sure {
				placed++
				if l.Within {
					within++
				}
			}
		}
		if placed > 0 {
			parts = append(parts, fmt.Sprintf("%d of %d landmarks well placed", within, placed))
		}
		if len(parts) > 0 {
			lines = append(lines, c.CreatedAt.Format("2 Jan")+": "+strings.Join(parts, ", "))
		}
	}
	return lines
}

// progress draws a student's accuracy over the projects of one teacher.
func (a area) progress(r *http.Request, teacher, student uint64) (template.HTML, error) {
	all, err := a.Store.CheckInsEverywhere(r.Context(), teacher, student)
	if err != nil {
		return "", err
	}
	projects, err := a.Store.Projects(r.Context(), teacher)
	if err != nil {
		return "", err
	}
	names := map[uint64]string{}
	for _, p := range projects {
		names[p.ID] = p.Name
	}
	var scores []sheet.Score
	for _, c := range all {
		if c.Report == nil || !c.Report.Measured {
			continue
		}
		if right, of := c.Report.Right(); of > 0 {
			scores = append(scores, sheet.Score{When: c.CreatedAt.Format("2 Jan"), What: names[c.ProjectID], Right: float64(right) / float64(of)})
		}
	}
	if len(scores) < 2 {
		return "", nil
	}
	return kit.InlineSVG(sheet.Progress(scores), nil)
}

func (a area) report(w http.ResponseWriter, r *http.Request) error {
	work, s, err := a.reportOf(r)
	if err != nil {
		return err
	}
	v, err := work.view(a, r, s)
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "report.html", s.Name+" · report", v)
}

func (a area) reportOf(r *http.Request) (reported, store.Student, error) {
	work, err := a.loadReport(r)
	if err != nil {
		return work, store.Student{}, err
	}
	s, err := work.student(r)
	return work, s, err
}

func (a area) reached(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	work, s, err := a.reportOf(r)
	if err != nil {
		return err
	}
	code := r.FormValue("objective")
	if !slices.ContainsFunc(lesson.Objectives, func(o lesson.Objective) bool { return o.Code == code }) {
		return kit.Ask("Choose one of the four objectives.")
	}
	if err := a.Store.SetReached(r.Context(), work.project.TeacherID, work.project.ID, s.ID, code, r.FormValue("on") != ""); err != nil {
		return err
	}
	return kit.Go(w, r, fmt.Sprintf("%s/students/%d/report", kit.ProjectPath(work.project.ID), s.ID))
}

func (a area) reportPDF(w http.ResponseWriter, r *http.Request) error {
	work, s, err := a.reportOf(r)
	if err != nil {
		return err
	}
	return a.sendReports(w, r, work, []store.Student{s}, s.Name)
}

func (a area) classPDF(w http.ResponseWriter, r *http.Request) error {
	work, err := a.loadReport(r)
	if err != nil {
		return err
	}
	if len(work.students) == 0 {
		return kit.Ask("This project has no students yet. Choose a class on the wall first.")
	}
	return a.sendReports(w, r, work, work.students, work.project.Name+" reports")
}

// sendReports answers with one page a student.
func (a area) sendReports(w http.ResponseWriter, r *http.Request, work reported, students []store.Student, name string) error {
	paper := "A4"
	if work.plans.Class.Units == measure.Inch {
		paper = "Letter"
	}
	size, _ := measure.PaperNamed(paper)
	pictures := render.Pictures{}
	var out []sheet.Page
	for _, s := range students {
		v, err := work.view(a, r, s)
		if err != nil {
			return err
		}
		wish := sheet.Wish{Plan: work.plans.Of(s.ID), Printer: sheet.On(size.Size), Who: sheet.Who{Name: s.Name}}
		photo, shape := "", 0.0
		if len(v.Photos) > 0 {
			p := v.Photos[0].Picture
			f, err := a.Store.PictureFile(r.Context(), work.project.TeacherID, p.ID, store.View)
			if err != nil {
				return err
			}
			photo, shape = fmt.Sprintf("photo %d", p.ID), float64(p.Width)/float64(p.Height)
			pictures[photo] = f.Bytes
		}
		page, err := sheet.Report(wish, work.done(s.ID), v.Entries, photo, shape)
		if err != nil {
			return kit.Ask("%s", kit.Sentence(err.Error()))
		}
		page.Owner, page.Title = s.Name, "Report"
		out = append(out, page)
	}
	return kit.SendPDF(w, name, out, pictures)
}

// extra is what to give to students who are early.
type extra struct {
	Idea     string
	Students []store.Student
}

// classView is the class's report.
type classView struct {
	Project  store.Project
	Rail     kit.Rail
	Head     []string
	Rows     []classRow
	Plot     template.HTML
	Left     string
	Extra    []extra // who is early, and what to give them
	Struggle []need  // who will not finish
}

type classRow struct {
	ID    uint64
	Cells []string
}

var classHead = []string{"Student", "Boxes", "Of", "Minutes a box", "Minutes to go", "from", "to", "Prospect", "Stage", "Photos", "Reached", "Notes"}

// rows are the class's report as a table.
func (w *reported) rows() (rows []classRow) {
	for _, s := range w.students {
		forecast, _ := w.forecast(s.ID)
		minutes := func(v float64) string { return strconv.FormatFloat(v, 'f', 0, 64) }
		prospect, photos := "", 0
		if h := w.help(s.ID); h != nil {
			prospect = string(h.Prospect)
		}
		for _, c := range w.checkIns {
			if c.StudentID == s.ID {
				photos++
			}
		}
		place := w.place(s.ID)
		rows = append(rows, classRow{s.ID, []string{s.Name, strconv.Itoa(len(w.done(s.ID))), strconv.Itoa(w.plans.Of(s.ID).Count()), strconv.FormatFloat(w.pace.Students[s.ID].PerBox(), 'f', 1, 64),
			minutes(forecast.Middle), minutes(forecast.Low), minutes(forecast.High), prospect, place.Stage.Name(), strconv.Itoa(photos), strconv.Itoa(len(w.reached[s.ID])), strconv.Itoa(len(w.notes[s.ID]))}})
	}
	return rows
}

func (a area) classReport(w http.ResponseWriter, r *http.Request) error {
	work, err := a.loadReport(r)
	if err != nil {
		return err
	}
	v := classView{Project: work.project, Rail: kit.Rail{Project: work.project, Here: kit.StepDraw, Planned: true}, Head: classHead, Rows: work.rows()}
	if left, known := work.minutesLeft(); known {
		v.Left = fmt.Sprintf("%.0f minutes of drawing are left.", left)
	}
	for _, s := range work.students {
		h := work.help(s.ID)
		if h == nil {
			continue
		}
		switch h.Prospect {
		case lesson.WillNot, lesson.MayNot:
			v.Struggle = append(v.Struggle, need{s, h.Ideas[0]})
		case lesson.Early, lesson.Finished:
			v.give(s, h.Ideas[0])
		}
	}
	if v.Plot, err = kit.InlineSVG(work.burnDown(), nil); err != nil {
		return err
	}
	return pages.Whole(w, r, "classreport.html", work.project.Name+" · report", v)
}

// give adds a student to those who get the same to do.
func (v *classView) give(s store.Student, idea string) {
	at := slices.IndexFunc(v.Extra, func(e extra) bool { return e.Idea == idea })
	if at < 0 {
		at, v.Extra = len(v.Extra), append(v.Extra, extra{Idea: idea})
	}
	v.Extra[at].Students = append(v.Extra[at].Students, s)
}

func (w *reported) burnDown() sheet.Page {
	var ticks []float64
	all := 0
	for _, s := range w.students {
		plan := w.plans.Of(s.ID)
		all += plan.Count()
		for _, t := range w.ticks[s.ID] {
			if _, ok := plan.Find(t.Label); ok {
				ticks = append(ticks, localMinutes(t.TickedAt))
			}
		}
	}
	return sheet.BurnDown(lesson.BurnDown(ticks, w.spans(), all, localMinutes(w.now)), len(w.lessons))
}

// reportCSV answers with the table as CSV.
func (a area) reportCSV(w http.ResponseWriter, r *http.Request) error {
	work, err := a.loadReport(r)
	if err != nil {
		return err
	}
	rows := [][]string{classHead}
	for _, row := range work.rows() {
		rows = append(rows, row.Cells)
	}
	return kit.SendCSV(w, work.project.Name+" report", rows)
}

// reportXLSX answers with the table as a workbook, numbers as numbers.
func (a area) reportXLSX(w http.ResponseWriter, r *http.Request) error {
	work, err := a.loadReport(r)
	if err != nil {
		return err
	}
	book := excelize.NewFile()
	defer book.Close()
	rows := append([]classRow{{Cells: classHead}}, work.rows()...)
	for y, row := range rows {
		for x, cell := range row.Cells {
			name, err := excelize.CoordinatesToCellName(x+1, y+1)
			if err != nil {
				return err
			}
			var value any = cell // a string is never read as a formula
			if n, err := strconv.ParseFloat(cell, 64); err == nil && x > 0 && y > 0 {
				value = n
			}
			if err := book.SetCellValue("Sheet1", name, value); err != nil {
				return err
			}
		}
	}
	var out bytes.Buffer
	if err := book.Write(&out); err != nil {
		return err
	}
	return kit.SendFile(w, work.project.Name+" report", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "xlsx", out.Bytes())
}
