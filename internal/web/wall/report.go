package wall

import (
	"context"
	"fmt"
	"html/template"
	"net/http"
	"slices"
	"strings"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/render"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// reportView is one student's report.
type reportView struct {
	Papers     []kit.Option
	Project    store.Project
	Rail       kit.Rail
	Student    store.Student
	Done, All  int
	Sum        []string      // a sentence each for progress, accuracy and growth
	Entries    []sheet.Entry // in people's words
	Figures    []sheet.Entry // behind them
	Nothing    string        // heads under which nothing is known yet
	PictureID  uint64        // of what they draw from, 0 for none
	Objectives []objectiveView
	Proposed   bool // measuring proposes some that nobody has said yet
	Photos     []store.CheckIn
	Clock      room.Clock
	Progress   template.HTML // a plot of accuracy over all projects; empty before two photos
	Growth     []template.HTML
	Path       string
}

type objectiveView struct {
	lesson.Objective
	Reached bool
	Judged  lesson.Judged // what measuring proposes
}

// Proposed reports whether measuring proposes what nobody has said yet.
func (o objectiveView) Proposed() bool { return o.Judged.Reached && !o.Reached }

// reported is all that reports of students need beside a class at work.
type reported struct {
	*room.Room
	learnt     store.Learnt
	checkIns   map[uint64][]store.CheckIn // of this project, the newest first
	everywhere map[uint64][]store.CheckIn // and of all of the teacher's, the oldest first
	notes      map[uint64][]store.Note
	trained    map[uint64][]store.Training // the latest first
}

// loadReports fetches the reports of some students of a class at work.
func (a area) loadReports(r *http.Request, work *room.Room, students ...store.Student) (w reported, err error) {
	ctx, p := r.Context(), work.Project
	w = reported{Room: work, checkIns: map[uint64][]store.CheckIn{}, everywhere: map[uint64][]store.CheckIn{}}
	if w.learnt, err = a.Store.Learnt(ctx, p.ID); err != nil {
		return w, err
	}
	w.trained = trainedBy(w.learnt.Trained)
	var ids []uint64
	for _, s := range students {
		ids = append(ids, s.ID)
	}
	all, err := a.Store.CheckInsEverywhere(ctx, p.TeacherID, ids)
	if err != nil {
		return w, err
	}
	for _, c := range all {
		w.everywhere[c.StudentID] = append(w.everywhere[c.StudentID], c)
		if c.ProjectID == p.ID {
			w.checkIns[c.StudentID] = slices.Insert(w.checkIns[c.StudentID], 0, c)
		}
	}
	w.notes, err = a.notesOf(ctx, p.ID)
	return w, err
}

// trainedBy sorts exercises by student.
func trainedBy(list []store.Training) map[uint64][]store.Training {
	by := map[uint64][]store.Training{}
	for _, t := range list {
		by[t.StudentID] = append(by[t.StudentID], t)
	}
	return by
}

// notesOf returns a project's notes by student, those of the lesson left out.
func (a area) notesOf(ctx context.Context, project uint64) (map[uint64][]store.Note, error) {
	notes, err := a.Store.Notes(ctx, project, 0, "")
	by := map[uint64][]store.Note{}
	for _, n := range notes {
		if n.StudentID != nil {
			by[*n.StudentID] = append(by[*n.StudentID], n)
		}
	}
	return by, err
}

// view writes one student's report.
func (w reported) view(s store.Student) (v reportView, err error) {
	v = reportView{Project: w.Project, Rail: kit.NewRail(w.Project, kit.StepDraw), Student: s, Done: len(w.Done(s.ID)), All: w.Plans.Count(s.ID),
		Photos: w.checkIns[s.ID], Clock: w.Clock, Path: fmt.Sprintf("%s/students/%d", kit.ProjectPath(w.Project), s.ID)}
	for _, o := range w.Road.Goals() {
		one := objectiveView{o, w.learnt.Reached[s.ID][o.Code], o.Judge(w.seen(s))}
		v.Objectives, v.Proposed = append(v.Objectives, one), v.Proposed || one.Proposed()
	}
	v.Sum = w.inShort(s)
	var nothing []string
	known := func(all ...sheet.Entry) []sheet.Entry {
		return slices.DeleteFunc(all, func(e sheet.Entry) bool {
			if e.Lines == nil {
				nothing = append(nothing, strings.ToLower(e.Head))
			}
			return e.Lines == nil
		})
	}
	v.Entries = known(sheet.Entry{Head: "Reached", Lines: v.reached()}, sheet.Entry{Head: "In their own words", Lines: w.ownWords(s)},
		sheet.Entry{Head: "Notes", Lines: w.noted(s)})
	v.Figures = known(sheet.Entry{Head: "Progress", Lines: w.progress(s)}, sheet.Entry{Head: "Checkpoints", Lines: w.checkpoints(s)},
		sheet.Entry{Head: "Measured", Lines: w.measured(s)}, sheet.Entry{Head: "Help taken to see a box", Lines: w.helps(s)},
		sheet.Entry{Head: "Eye training", Lines: w.trainings(s)})
	v.Nothing = strings.Join(nothing, ", ")
	if pic := w.Plans.PictureOf(s.ID); pic != nil {
		v.PictureID = pic.ID
	}
	v.Progress, err = w.plot(s)
	return v, err
}

// mostOverTime is how many photos a report shows in a row: the first and the latest.
const mostOverTime = 6

// oneOf is a photo of a row, with what was right on it.
type oneOf struct {
	store.CheckIn
	Right string
}

// OverTime returns the student's photos whose drawing was found, the oldest first.
func (v reportView) OverTime() (row []oneOf) {
	for _, c := range slices.Backward(v.Photos) {
		if c.Corners == nil {
			continue
		}
		one := oneOf{CheckIn: c}
		if c.Gist != nil && c.Gist.Measured {
			right, of := c.Gist.Right()
			one.Right = fmt.Sprintf("%d of %d in place", right, of)
		}
		row = append(row, one)
	}
	if over := len(row) - mostOverTime; over > 0 {
		row = slices.Delete(row, 1, 1+over)
	}
	return row
}

// seen is what is known of a student's drawing by the latest photo that was measured.
func (w reported) seen(s store.Student) lesson.Seen {
	seen := lesson.Seen{Done: len(w.Done(s.ID)), All: w.Plans.Count(s.ID)}
	for _, c := range w.checkIns[s.ID] { // the newest first
		if c.Gist != nil && c.Gist.Measured {
			seen.Off, seen.Tone, seen.Within, seen.Points = c.Gist.Off, c.Gist.Tone, c.Gist.Within, c.Gist.Placed
			if f := c.Gist.Reach; f != nil {
				seen.Reach = &lesson.Reach{Across: f.Across, Down: f.Down, Touches: f.Touches}
			}
			break
		}
	}
	return seen
}

// progress says how far a student is, how fast, and how that will end.
func (w reported) progress(s store.Student) []string {
	lines := []string{fmt.Sprintf("%d of %d %s ticked off as drawn", len(w.Done(s.ID)), w.Plans.Count(s.ID), w.Road.Unit().Many)}
	if p := w.Pace(s.ID); p.Boxes > 0 {
		lines = append(lines, fmt.Sprintf("about %.1f minutes a box", p.PerBox()))
	}
	if h := w.Help(s.ID); h != nil {
		lines = append(lines, kit.Sentence(string(h.Prospect)+": "+h.Why))
	}
	place := w.Place(s.ID)
	return append(lines, fmt.Sprintf("on the road: %d of %d, %s", place.Number, place.Of, place.Stage.Name()))
}

// inShort says in a sentence each how far a student is, how exact the drawing is, and how the eye has grown.
func (w reported) inShort(s store.Student) (lines []string) {
	done := fmt.Sprintf("%s has drawn %d of %d %s", s.Name, len(w.Done(s.ID)), w.Plans.Count(s.ID), w.Road.Unit().Many)
	if h := w.Help(s.ID); h != nil && h.Prospect != lesson.Untold && h.Prospect != lesson.Finished {
		done += " and " + string(h.Prospect)
	}
	lines = append(lines, done+".")
	for _, c := range w.checkIns[s.ID] { // the newest first
		if c.Gist == nil {
			continue
		}
		if right, of := c.Gist.Right(); of > 0 {
			lines = append(lines, fmt.Sprintf("On the photo of %s %d of %d boxes are in their places.", w.Clock.Short(c.CreatedAt), right, of))
			break
		}
	}
	return append(lines, w.grown(s)...)
}

// An eye misses less, or more, where it misses such a share of what it did at first (ours).
const missesLess, missesMore = 0.8, 1.25

// grown compares the latest exercise of a student's eye with the first of its kind.
func (w reported) grown(s store.Student) []string {
	list := w.trained[s.ID] // the latest first
	if len(list) == 0 {
		return nil
	}
	last := list[0]
	for _, first := range slices.Backward(list) {
		if first.Result.Kind != last.Result.Kind || first.DoneAt.Equal(last.DoneAt) || first.Result.Miss().Value <= 0 {
			continue
		}
		switch ratio := last.Result.Miss().Value / first.Result.Miss().Value; {
		case ratio <= missesLess:
			return []string{fmt.Sprintf("The eye has grown sharper: it misses by about %s of what it did on %s.", accuracy.ShareInWords(ratio), w.Clock.Short(first.DoneAt))}
		case ratio >= missesMore:
			return []string{fmt.Sprintf("The eye misses more than on %s: a short exercise now and then helps.", w.Clock.Short(first.DoneAt))}
		}
		return []string{fmt.Sprintf("The eye sees about as sharply as on %s.", w.Clock.Short(first.DoneAt))}
	}
	return nil
}

// checkpoints is what was said to a student at checkpoints.
func (w reported) checkpoints(s store.Student) (lines []string) {
	for _, c := range w.State.Verdicts[s.ID] {
		line := fmt.Sprintf("%s, %s: %s, %s", w.Clock.Short(c.CreatedAt), w.Road.StageName(c.Stage), c.Verdict, c.ByWhom)
		if c.Note != "" {
			line += " — " + c.Note
		}
		lines = append(lines, line)
	}
	return lines
}

func (v reportView) reached() (lines []string) {
	for _, o := range v.Objectives {
		if o.Reached {
			lines = append(lines, fmt.Sprintf("%s (%s)", o.Words, o.Level))
		}
	}
	return lines
}

// helps says in how many boxes a student was helped, and how far.
func (w reported) helps(s store.Student) (lines []string) {
	for _, h := range []struct {
		help reading.Help
		say  string
	}{{reading.Dots, "dots at the crossings"}, {reading.Words, "dots and words"}, {reading.Traced, "dots, words and the lines"}} {
		switch n := w.learnt.Helped[s.ID][h.help]; {
		case n == 1:
			lines = append(lines, h.say+" in one box")
		case n > 1:
			lines = append(lines, fmt.Sprintf("%s in %d boxes", h.say, n))
		}
	}
	return lines
}

// ownWords is what a student says of the drawing, and how they judge it themselves.
func (w reported) ownWords(s store.Student) (lines []string) {
	own := w.learnt.Own[s.ID]
	if v := own["differs"]; v != "" {
		lines = append(lines, "What differs: "+v)
	}
	if v := own["glad"]; v != "" {
		lines = append(lines, "Glad of: "+v)
	}
	for _, o := range w.Road.Goals() {
		if own["goal:"+o.Code] != "" {
			lines = append(lines, fmt.Sprintf("says of it: %s (%s)", o.Words, o.Level))
		}
	}
	return lines
}

func (w reported) noted(s store.Student) (lines []string) {
	for _, n := range w.notes[s.ID] {
		lines = append(lines, w.Clock.Short(n.CreatedAt)+": "+n.Words)
	}
	return lines
}

// measured is what the student's photos say, the newest first.
func (w reported) measured(s store.Student) (lines []string) {
	for _, c := range w.checkIns[s.ID] {
		if c.Gist == nil {
			continue
		}
		var parts []string
		if right, of := c.Gist.Right(); of > 0 {
			parts = append(parts, fmt.Sprintf("%d of %d boxes in their places", right, of))
		}
		if c.Gist.Placed > 0 {
			parts = append(parts, fmt.Sprintf("%d of %d landmarks well placed", c.Gist.Within, c.Gist.Placed))
		}
		if len(parts) > 0 {
			lines = append(lines, w.Clock.Short(c.CreatedAt)+": "+strings.Join(parts, ", "))
		}
	}
	return lines
}

// plot draws a student's accuracy over the projects of one teacher.
func (w reported) plot(s store.Student) (template.HTML, error) {
	var scores []sheet.Score
	for _, c := range w.everywhere[s.ID] {
		if c.Gist == nil || !c.Gist.Measured {
			continue
		}
		if right, of := c.Gist.Right(); of > 0 {
			scores = append(scores, sheet.Score{When: w.Clock.Short(c.CreatedAt), What: c.Project.Name, Right: float64(right) / float64(of)})
		}
	}
	if len(scores) < 2 {
		return "", nil
	}
	return kit.InlineSVG(sheet.Progress(scores), nil)
}

// shownTrainings is how many exercises of the eye a report shows.
const shownTrainings = 8

// trainings is what a student's exercises of the eye told, the latest first.
func (w reported) trainings(s store.Student) (lines []string) {
	list := w.trained[s.ID]
	for _, t := range list[:min(len(list), shownTrainings)] {
		lines = append(lines, w.Clock.Short(t.DoneAt)+": "+t.Result.Say())
	}
	return lines
}

func (a area) report(w http.ResponseWriter, r *http.Request, work reported, s store.Student) (err error) {
	v, err := work.view(s)
	if err != nil {
		return err
	}
	v.Papers = kit.PaperOptions(kit.PaperOf(r, work.Plans.Class.Units))
	if v.Growth, err = kit.Growth(work.Clock, work.trained[s.ID]); err != nil {
		return err
	}
	return pages.Whole(w, r, "report.html", s.Name+" · report", v)
}

func (a area) reportOf(r *http.Request) (w reported, s store.Student, err error) {
	work, err := a.load(r)
	if err != nil {
		return w, s, err
	}
	if s, err = student(r, work); err != nil {
		return w, s, err
	}
	w, err = a.loadReports(r, work, s)
	return w, s, err
}

func (a area) reached(w http.ResponseWriter, r *http.Request, work *room.Room, s store.Student) error {
	code := r.FormValue("objective")
	if !slices.ContainsFunc(work.Road.Goals(), func(o lesson.Objective) bool { return o.Code == code }) {
		return kit.Ask("Choose one of this project’s objectives.")
	}
	if err := a.Store.SetReached(r.Context(), work.Project.TeacherID, work.Project.ID, s.ID, code, r.FormValue("on") != ""); err != nil {
		return err
	}
	return kit.Go(w, r, fmt.Sprintf("%s/students/%d/report", kit.ProjectPath(work.Project), s.ID))
}

// reachedAsMeasured says of one student, or of everybody, that what measuring proposes is reached.
func (a area) reachedAsMeasured(w http.ResponseWriter, r *http.Request, work *room.Room) (err error) {
	students, back := who(work, r), "/report"
	if len(r.Form["student"]) == 1 && len(students) == 1 {
		back = fmt.Sprintf("/students/%d/report", students[0].ID)
	}
	all, err := a.loadReports(r, work, students...)
	if err != nil {
		return err
	}
	var reached []store.Reached
	for _, s := range students {
		for _, o := range work.Road.Goals() {
			if o.Judge(all.seen(s)).Reached {
				reached = append(reached, store.Reached{ProjectID: work.Project.ID, StudentID: s.ID, Objective: o.Code})
			}
		}
	}
	if err := a.Store.AddReached(r.Context(), work.Project.TeacherID, work.Project.ID, reached); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(work.Project)+back)
}

func (a area) reportPDF(w http.ResponseWriter, r *http.Request, work reported, s store.Student) error {
	return a.sendReports(w, r, work, []store.Student{s}, s.Name)
}

func (a area) classPDF(w http.ResponseWriter, r *http.Request, work *room.Room) (err error) {
	if len(work.Students) == 0 {
		return kit.Ask("This project has no students yet. Choose a class on the wall first.")
	}
	all, err := a.loadReports(r, work, work.Students...)
	if err != nil {
		return err
	}
	return a.sendReports(w, r, all, work.Students, work.Project.Name+" reports")
}

// lessonPDF answers with what a colleague needs who takes one lesson.
func (a area) lessonPDF(w http.ResponseWriter, r *http.Request, work *room.Room) (err error) {
	if len(work.Students) == 0 {
		return kit.Ask("This project has no students yet. Choose a class on the wall first.")
	}
	printer, err := printerFor(r, work)
	if err != nil {
		return err
	}
	var where []string
	for _, s := range work.Students {
		at := work.Place(s.ID)
		line := fmt.Sprintf("%s: %s, %d of %d %s", s.Name, at.Stage.Name(), len(work.Done(s.ID)), work.Plans.Count(s.ID), work.Road.Unit().Many)
		if s.Needs != "" {
			line += " · " + s.Needs
		}
		where = append(where, line)
	}
	pictures := render.Pictures{}
	if work.Project.PictureID != nil {
		f, err := a.Store.PictureFile(r.Context(), work.Project.TeacherID, *work.Project.PictureID, store.View)
		if err != nil {
			return err
		}
		pictures[sheet.FramePicture] = f.Bytes
	}
	pages, err := sheet.LessonSheet(sheet.Wish{Plan: work.Plans.Class, Printer: printer}, work.Project.Class.Name, mostAt(work), where)
	if err != nil {
		return kit.Ask("%s", kit.Sentence(err.Error()))
	}
	return kit.SendPDF(w, work.Project.Name+" lesson", pages, pictures)
}

// printerFor returns the printer with the paper that somebody chose for a class's pages.
func printerFor(r *http.Request, work *room.Room) (page.Printer, error) {
	paper, known := measure.PaperNamed(kit.PaperOf(r, work.Plans.Class.Units))
	if !known {
		return page.Printer{}, kit.AskAt("paper", "Choose a paper from the list.")
	}
	return page.On(paper.Size), nil
}

// sendReports answers with one page a student.
func (a area) sendReports(w http.ResponseWriter, r *http.Request, work reported, students []store.Student, name string) error {
	printer, err := printerFor(r, work.Room)
	if err != nil {
		return err
	}
	files, err := a.Store.PictureFiles(r.Context(), work.Project.TeacherID, work.newest(students), store.View)
	if err != nil {
		return err
	}
	pictures := render.Pictures{}
	var out []page.Page
	for _, s := range students {
		v, err := work.view(s)
		if err != nil {
			return err
		}
		wish := sheet.Wish{Plan: work.Plans.Of(s.ID), Printer: printer, Who: sheet.Who{Name: s.Name}}
		photo, shape := "", 0.0
		if len(v.Photos) > 0 {
			p := v.Photos[0].Picture
			photo, shape = fmt.Sprintf("photo %d", p.ID), float64(p.Width)/float64(p.Height)
			pictures[photo] = files[p.ID].Bytes
		}
		pg, err := sheet.Report(wish, work.Done(s.ID), slices.Concat([]sheet.Entry{{Head: "In short", Lines: v.Sum}}, v.Entries, v.Figures), photo, shape)
		if err != nil {
			return kit.Ask("%s", kit.Sentence(err.Error()))
		}
		pg.Owner, pg.Title = s.Name, "Report"
		out = append(out, pg)
	}
	return kit.SendPDF(w, name, out, pictures)
}

// newest returns the newest photo of each student who has one.
func (w reported) newest(students []store.Student) (photos []uint64) {
	for _, s := range students {
		if all := w.checkIns[s.ID]; len(all) > 0 {
			photos = append(photos, all[0].PictureID)
		}
	}
	return photos
}
