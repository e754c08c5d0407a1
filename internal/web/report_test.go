package web

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"image"
	"image/png"
	"maps"
	"net/http"
	"net/url"
	"os/exec"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/xuri/excelize/v2"

	"zestysketch/internal/core/training"
	"zestysketch/internal/store"
)

// A plan that is in use is not changed unasked: who is at work, whose papers are ruled and what was printed is named.
// One that cannot be drawn is not kept while they work, however sure somebody is. A colleague who may only run the
// lessons is offered no button that would be refused.
func TestAPlanInUseIsAskedAbout(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, ctx := h.signIn("owner@quay.example"), context.Background()
	plan := h.address("/projects/{project}/plan")
	wider := planForm(h.sample.Plan.Typed, 1)
	wider["paper"], wider["scale"], wider["sheet_square"], wider["reference_square"] = "24x36in", "1.75", "", "1 in"
	project, err := h.db.Project(ctx, h.project.TeacherID, h.project.ID)
	if err != nil {
		t.Fatal(err)
	}
	if err := h.db.Printed(ctx, project); err != nil {
		t.Fatal(err)
	}
	ada, ben := h.class.Students[0], h.class.Students[1]
	c.post(h.address("/projects/{project}/students/{student}/ticks"), form{"label": "A1", "on": "1"}).location()
	if err := h.db.DoStage(ctx, h.project.TeacherID, h.project.ID, ben.ID, "markup", true); err != nil {
		t.Fatal(err)
	}
	asked := c.post(plan, wider).want(http.StatusUnprocessableEntity, "The plan of now is in use", "At work by it: "+ada.Name+", with 1 box done", "ruled by it", ben.Name, "were printed by it")
	if !asked.says("Keep the") {
		t.Error("no button keeps it all the same")
	}
	stop := maps.Clone(wider)
	stop["paper"], stop["scale"], stop["sure"] = "9x12in", "1.5", "1"
	c.post(plan, stop).want(http.StatusUnprocessableEntity, "While they work this plan cannot be kept")
	same := planForm(h.sample.Plan.Typed, 1)
	same["name"] = "Another name"
	c.post(plan, same).want(http.StatusOK, "Kept")
	wider["seen"], wider["sure"] = "2", "1"
	c.post(plan, wider).want(http.StatusOK, "Kept")
	h.share(store.ToCover, nil)
	if page := h.signIn("other@quay.example").get(h.address("/projects/{project}")).want(http.StatusOK, "the plan stays theirs"); page.says("Keep this plan</button>") {
		t.Error("a colleague is offered a button that is refused")
	}
}

// The class's report as page, CSV and workbook says the same, and a name that
// looks like a formula stays a name.
func TestReports(t *testing.T) {
	h := newHouse(t)
	c, ctx := h.signIn("owner@quay.example"), context.Background()
	if err := h.db.AddStudents(ctx, h.project.TeacherID, h.class.ID, []string{`=HYPERLINK("http://x")`, "@cmd"}); err != nil {
		t.Fatal(err)
	}
	ada := h.class.Students[0].ID
	for i, label := range []string{"A1", "B1", "C1", "D1"} {
		if err := h.db.Tick(ctx, h.project.TeacherID, h.project.ID, ada, label, true, time.Now().Add(time.Duration(4*i-30)*time.Minute)); err != nil {
			t.Fatal(err)
		}
	}
	base := h.address("/projects/{project}")
	page := c.get(base+"/report").want(http.StatusOK, "Boxes left").body
	rows, err := csv.NewReader(strings.NewReader(c.get(base+"/report.csv").want(http.StatusOK, "Student,Boxes").body)).ReadAll()
	if err != nil || len(rows) != 5 {
		t.Fatalf("%d rows, %v", len(rows), err)
	}
	byName := map[string][]string{}
	for _, row := range rows[1:] {
		byName[row[0]] = row
		if strings.ContainsAny(row[0][:1], "=+-@") {
			t.Errorf("the cell %q is a formula", row[0])
		}
	}
	if row := byName["Ada"]; row == nil || row[1] != "4" || row[2] != "63" || row[3] == "" || row[7] == "" || !strings.Contains(page, row[7]) {
		t.Errorf("Ada's row is %q", row)
	}
	book, err := excelize.OpenReader(strings.NewReader(c.get(base+"/report.xlsx").want(http.StatusOK, "PK").body))
	if err != nil {
		t.Fatal(err)
	}
	for cell, want := range map[string]string{"A1": "Student", "A2": "@cmd", "A3": "=HYPERLINK", "B4": "4"} {
		if got, err := book.GetCellValue("Sheet1", cell); err != nil || got != want && !strings.Contains(got, want) {
			t.Errorf("%s is %q, %v; want %q", cell, got, err, want)
		}
		if f, err := book.GetCellFormula("Sheet1", cell); err != nil || f != "" {
			t.Errorf("%s is the formula %q", cell, f)
		}
	}
	one := h.address("/projects/{project}/students/{student}")
	c.post(one+"/reached", form{"objective": "proportions", "on": "1"}).location()
	c.post(one+"/reached", form{"objective": "fame", "on": "1"}).want(http.StatusUnprocessableEntity, "one of this project’s objectives")
	c.post(one+"/notes", form{"words": "looks closely"}).location()
	report := c.get(one+"/report").want(http.StatusOK, "4 of 63 boxes ticked off as drawn").want(http.StatusOK, " has drawn 4 of 63 boxes", "The figures")
	for _, say := range []string{"Proportions are right (basic)", "looks closely", "minutes a box"} {
		if !report.says(say) {
			t.Errorf("the report does not say %q", say)
		}
	}
	for path, pages := range map[string]int{one + "/report.pdf": 1, base + "/report.pdf": 4} {
		pdf := c.get(path).want(http.StatusOK, "%PDF-")
		text := exec.Command("pdftotext", "-", "-")
		text.Stdin = strings.NewReader(pdf.body)
		out, err := text.Output()
		if err != nil || strings.Count(string(out), "\f") != pages || !strings.Contains(string(out), "looks closely") {
			t.Errorf("%s: %v, %d pages; want %d with Ada's note", path, err, strings.Count(string(out), "\f"), pages)
		}
	}
}

func TestLogAndMaterials(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	base := h.address("/projects/{project}")
	c.post(h.address("/notes/{note}"), form{"words": " "}).want(http.StatusUnprocessableEntity, "or delete it")
	c.post(h.address("/notes/{note}"), form{"words": "Lost the ellipse."}).location()
	c.get(base+"/log").want(http.StatusOK, "Lost the ellipse.")
	c.post(h.address("/notes/{note}"), form{"words": "Lost the ellipse.", "remove": "1"}).location()
	c.get(base+"/log").want(http.StatusOK, "Nothing yet")
	c.post(base+"/log", form{"words": "Everyone marked up; the yardstick is bent"}, file{"photo", "p.jpg", h.sample.Photo}).location()
	c.post(h.address("/projects/{project}/students/{student}/seat"), form{"what": "absent", "on": "1"}).location()
	c.post(h.address("/projects/{project}/students/{student}/notes"), form{"words": "catches up on Friday"}).location()
	page := c.get(base+"/log").want(http.StatusOK, "the yardstick is bent").body
	for _, say := range []string{"away: Ada", "catches up on Friday", "lognote"} {
		if !strings.Contains(page, say) {
			t.Errorf("the log does not say %q", say)
		}
	}
	if found := c.get(base + "/log?words=bent+yardstick").body; !strings.Contains(found, "is bent") || strings.Contains(found, "Friday") {
		t.Error("looking for words finds the wrong notes")
	}
	c.post(base+"/log", form{"words": ""}).want(http.StatusUnprocessableEntity, "Write a note")
	c.post(base+"/log", form{"words": "x"}, file{"photo", "p.txt", []byte("x")}).want(http.StatusUnprocessableEntity, "not a picture")
	c.get(base+"/materials").want(http.StatusOK, "drawing paper")
	c.post(base+"/materials", form{"have3": "1", "price3": "0,35"}).location()
	if page := c.get(base + "/materials").body; !strings.Contains(page, "0.35") || !strings.Contains(page, "product&#39;s label") {
		t.Error("the price, or the trimmer's caution, is not on the page")
	}
	for _, bad := range []form{{"have0": "-1", "price0": "1"}, {"have0": "some", "price0": "1"}, {"have0": "1", "price0": "NaN"}, {"have0": "1", "price0": "99999999"}} {
		c.post(base+"/materials", bad).want(http.StatusUnprocessableEntity, "Wanted ")
	}
	long := url.QueryEscape(strings.Repeat("x", 99) + "éé") // is cut within a letter
	c.get(h.address("/projects/{project}/log?words=")+long).want(http.StatusOK, "Harbour light")
}

// Another grid keeps what lies in the same places, shows the rest as history,
// and loses nothing; another picture keeps none.
func TestTicksOverAChangeOfGrid(t *testing.T) {
	h := newHouse(t)
	c, ctx := h.signIn("owner@quay.example"), context.Background()
	ada := h.class.Students[0].ID
	ticks := h.address("/projects/{project}/students/{student}/ticks")
	for _, label := range []string{"A1", "B1", "A2", "B2", "G9"} {
		c.post(ticks, form{"label": label, "on": "1"}).location()
	}
	plan := h.address("/projects/{project}/plan")
	save := func(square string, seen int) {
		t.Helper()
		ask := planForm(h.sample.Plan.Typed, seen)
		ask["reference_square"], ask["sheet_square"], ask["scale"], ask["sure"] = square, "", "1.5", "1"
		c.post(plan, ask).want(http.StatusOK, "Kept")
	}
	coarse := planForm(h.sample.Plan.Typed, 1)
	coarse["reference_square"], coarse["sheet_square"], coarse["scale"] = "3 in", "", "1.5"
	c.post(plan, coarse).want(http.StatusUnprocessableEntity, "Ada: 5 of ")
	coarse["sure"] = "1"
	c.post(plan, coarse).want(http.StatusOK, "Kept")
	c.get(plan+"s").want(http.StatusOK, "5 boxes ticked")
	c.post(plan+"s/1/restore", nil).location()
	if done, err := h.db.StudentTicks(ctx, h.project.ID, ada); err != nil || len(done) != 5 || !done["G9"] {
		t.Fatalf("brought back: %v, %v", done, err)
	}
	save("1/2 in", 3)
	done, err := h.db.StudentTicks(ctx, h.project.ID, ada)
	if err != nil || len(done) != 5*4 || !done["D4"] || !done["N18"] {
		t.Fatalf("after halving, %d are done, %v; want 20", len(done), err)
	}
	c.get(h.address("/projects/{project}/wall?student=")+fmt.Sprint(ada)).want(http.StatusOK, "5 boxes were done of an earlier grid")
	save("3/4 in", 4) // 0.75 in: A1 to C2 lie in what was drawn, and more in part
	third, err := h.db.StudentTicks(ctx, h.project.ID, ada)
	if err != nil || !third["A1"] || !third["B2"] || third["C3"] {
		t.Errorf("at three quarters, done are %v, %v", third, err)
	}
	c.post(h.address("/projects/{project}/picture"), form{"use": "1"}, file{"picture", "same size.png", h.sample.Picture}).location()
	if none, err := h.db.StudentTicks(ctx, h.project.ID, ada); err != nil || len(none) != 0 {
		t.Errorf("of another picture, %d boxes are done, %v", len(none), err)
	}
	if old, err := h.db.History(ctx, h.project.ID, ada); err != nil || old[1] != 5 || old[3] != 5 || old[4] != 20 || old[5] != len(third) {
		t.Errorf("history %v, %v", old, err)
	}
}

// Larger boxes or a frame of one's own in mid-work keep what lies in the same
// places; another picture keeps none; nothing is lost.
func TestTicksOverAChangeOfNeeds(t *testing.T) {
	h := newHouse(t)
	c, ctx := h.signIn("owner@quay.example"), context.Background()
	ada, bryn := h.class.Students[0].ID, h.class.Students[1].ID
	for _, student := range []uint64{ada, bryn} {
		for _, label := range []string{"A1", "B1", "A2", "B2", "C1"} {
			if err := h.db.Tick(ctx, h.project.TeacherID, h.project.ID, student, label, true, time.Now()); err != nil {
				t.Fatal(err)
			}
		}
	}
	done := func(student uint64) string {
		t.Helper()
		labels, err := h.db.StudentTicks(ctx, h.project.ID, student)
		if err != nil {
			t.Fatal(err)
		}
		return strings.Join(slices.Sorted(maps.Keys(labels)), " ")
	}
	needs := h.address("/students/{student}")
	c.post(needs, form{"hand": "right", "needs": store.NeedContrast}).location()
	if got := done(ada); got != "A1 A2 B1 B2 C1" {
		t.Errorf("with bolder lines, done are %s", got)
	}
	c.post(needs, form{"hand": "right", "needs": store.NeedFewer}).location()
	if got := done(ada); got != "A1" {
		t.Errorf("with larger boxes, done are %s; want A1, where four of five lay", got)
	}
	if old, err := h.db.History(ctx, h.project.ID, ada); err != nil || old[1] != 5 {
		t.Errorf("history %v, %v", old, err)
	}
	if got := done(bryn); got != "A1 A2 B1 B2 C1" {
		t.Errorf("Bryn's done are %s; want them untouched", got)
	}
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, 800, 400))); err != nil {
		t.Fatal(err)
	}
	c.post(h.address("/projects/{project}/picture"), form{}, file{"picture", "lying.png", b.Bytes()}).location()
	offered, err := h.db.ProjectPictures(ctx, h.project.ID)
	if err != nil || len(offered) != 2 {
		t.Fatalf("on offer %d, %v; want 2", len(offered), err)
	}
	c.post(h.address("/projects/{project}/students/{student}/picture"), form{"own": fmt.Sprintf("p%d", offered[1].ID)}).location()
	if got := done(ada); got != "" {
		t.Errorf("of another picture, done are %s", got)
	}
}

// Every day and hour on every page is the school's, wherever the server stands.
func TestSchoolClock(t *testing.T) {
	h := newHouse(t)
	c, ctx := h.signIn("owner@quay.example"), context.Background()
	place := form{"school": "Quay Lane", "units": "in", "dates": "en_GB", "zone": "Harbour/Quay"}
	c.post("/school", place).want(http.StatusUnprocessableEntity, "such as Europe/Lisbon")
	place["zone"] = "Pacific/Kiritimati" // 14 hours ahead: another day than a server in most places
	c.post("/school", place).location()
	c.get(h.address("/classes/{class}/calendar")).want(http.StatusOK, "Pacific/Kiritimati")
	if err := h.db.AddNote(ctx, h.project.TeacherID, &store.Note{ProjectID: h.project.ID, StudentID: &h.class.Students[0].ID, Words: "A bold line."}); err != nil {
		t.Fatal(err)
	}
	zone, err := time.LoadLocation("Pacific/Kiritimati")
	if err != nil {
		t.Fatal(err)
	}
	far, err := time.LoadLocation("Pacific/Pago_Pago") // 25 hours behind it
	if err != nil {
		t.Fatal(err)
	}
	local := time.Local
	time.Local = far
	t.Cleanup(func() { time.Local = local })
	now := time.Now().In(zone)
	c.post(h.address("/projects/{project}/students/{student}/ticks"), form{"label": "A1", "on": "1"}).location()
	c.get(h.address("/projects/{project}/wall")).want(http.StatusOK, "<time>"+now.Format("2 Jan")+"</time> A bold line.")
	c.get(h.address("/projects/{project}/students/{student}/report")).want(http.StatusOK, now.Format("2 Jan")+": A bold line.")
	c.get(h.address("/projects/{project}/log")).want(http.StatusOK, now.Format("2 Jan 2006"))
	c.get(h.address("/projects/{project}/check")).want(http.StatusOK, now.Format("2 January"))
	c.get(h.address("/checkins/{checkin}")).want(http.StatusOK, now.Format("2 January"))
	c.get(h.address("/projects/{project}/print")).want(http.StatusOK, now.Format("2 Jan"))
	c.get(h.address("/projects/{project}/finish/show")).want(http.StatusOK, now.Format("January 2006"))
}

// A proposed size keeps what was asked for beside it, or says beside its button what its use takes away.
func TestAProposalSaysWhatItTakesAway(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, q := h.signIn("owner@quay.example"), url.Values{"step": {"size"}}
	for name, value := range planForm(h.sample.Plan.Typed, 1) {
		q.Set(name, value)
	}
	q.Set("margin", "1 in")
	q.Set("split", "C4 2")
	q.Set("paper", "24x36in")
	page := c.get(h.address("/projects/{project}/plan")+"?"+q.Encode()).want(http.StatusOK, "data-set").body
	cards := strings.Split(page, `<article class="size`)[1:]
	if len(cards) == 0 {
		t.Fatal("no size is proposed")
	}
	for _, card := range cards {
		for field, words := range map[string]string{"margin": "the margin", "split": "the boxes divided again"} {
			if gone := strings.Contains(card, `&#34;`+field+`&#34;:&#34;&#34;`); gone != strings.Contains(card, words) && strings.Contains(card, "data-set") {
				t.Errorf("its use empties %s: %v; it says so: %v", field, gone, !gone)
			}
		}
	}
}

// A report begins with what a family wants to know, a sentence each: how far, how exact, how the eye has grown.
func TestReportInShort(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, report := h.signIn("owner@quay.example"), h.address("/projects/{project}/students/{student}/report")
	c.get(report).want(http.StatusOK, "Ada has drawn 0 of 63 boxes")
	for i, miss := range []float64{8, 7.5, 3.2} {
		err := h.db.Train(t.Context(), h.project.TeacherID, store.Training{ProjectID: h.project.ID, StudentID: h.class.Students[0].ID, Kind: training.Along,
			DoneAt: time.Now().UTC().AddDate(0, 0, 7*(i-3)), Result: training.Result{Kind: training.Along, Trials: 20, Spread: training.Estimate{Value: miss, Low: miss - 1, High: miss + 1}}})
		if err != nil {
			t.Fatal(err)
		}
		says := []string{"", "The eye sees about as sharply as on ", "it misses by about two fifths of what it did on "}[i]
		c.get(report).want(http.StatusOK, says)
	}
}

// The school's holidays are written once: no class has a lesson then, those that have a calendar and those that get one.
func TestSchoolHolidays(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, page := h.signIn("owner@quay.example"), h.address("/classes/{class}/calendar")
	lessons := form{"from": "2027-02-01", "until": "2027-02-28", "day0": "0", "start0": "9:30", "minutes0": "50", "setup": "5", "clear": "5", "holidays": "2027-02-08"}
	c.post(page, lessons).location()
	c.get(page).want(http.StatusOK, "3 lessons") // Mondays: 1, 15, 22
	place := form{"school": "Quay Lane", "units": "in", "dates": "en_GB", "zone": "", "holidays": "2027-02-15 to 2027-02-19"}
	c.post("/school", place).location()
	c.get("/school").want(http.StatusOK, "2027-02-15 to 2027-02-19</textarea>")
	c.get(page).want(http.StatusOK, "2 lessons", "The whole school has off: 2027-02-15 to 2027-02-19", ">2027-02-08</textarea>")
	c.post(page, lessons).location() // keeping the class's own changes nothing
	c.get(page).want(http.StatusOK, "2 lessons")
	place["holidays"] = ""
	c.post("/school", place).location()
	c.get(page).want(http.StatusOK, "3 lessons")
	place["holidays"] = "Christmas"
	c.post("/school", place).want(http.StatusUnprocessableEntity, "Wanted a date such as 21 Dec")
}

// One lesson for a colleague is a page: what the class does, who is where, what to look for and the cautions.
func TestLessonSheet(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	c.get(h.address("/projects/{project}/wall")).want(http.StatusOK, "Lesson sheet for a colleague")
	got := c.get(h.address("/projects/{project}/lesson.pdf")).want(http.StatusOK, "%PDF")
	words := strings.Join(strings.Fields(got.text()), " ")
	for _, say := range []string{"7 Quay, one lesson for a colleague", "What they do", "Ada: ", "0 of 63 boxes", "Bryn: ", "Look for", "Follow your school"} {
		if !strings.Contains(words, say) {
			t.Errorf("the lesson sheet does not say %q: %.600s", say, words)
		}
	}
}
