package web

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"html"
	"io"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	goical "github.com/emersion/go-ical"
	"github.com/go-rod/rod/lib/input"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
)

// ticked waits until the database has a number of a student's boxes.
func (h *house) ticked(t *testing.T, student uint64, want int) {
	t.Helper()
	var done map[string]bool
	for deadline := time.Now().Add(15 * time.Second); time.Now().Before(deadline); time.Sleep(50 * time.Millisecond) {
		var err error
		if done, err = h.db.StudentTicks(context.Background(), h.project.ID, student); err != nil {
			t.Fatal(err)
		}
		if len(done) == want {
			return
		}
	}
	t.Fatalf("student %d has %d ticks; want %d", student, len(done), want)
}

// Two walls and a tablet: what one ticks the others show within a second,
// hands too; ten ticks by keyboard are quick; and what is ticked while the
// connection is away is sent when it is back, each once.
func TestTheWallIsLive(t *testing.T) {
	h := newHouse(t)
	ada, bryn := h.class.Students[0].ID, h.class.Students[1].ID
	mine, theirs := h.open(1280, 800), h.open(1280, 800)
	wall := h.address("/projects/{project}/wall")
	for _, s := range []*screen{mine, theirs} {
		s.signIn()
		s.visit(wall)
		s.page.MustElement("#desk-in")
	}
	mine.page.MustElement(fmt.Sprintf(`#tile-%d rect[data-label="C3"]`, bryn)).MustClick()
	theirs.page.MustElement(fmt.Sprintf(`#tile-%d rect.on[data-label="C3"]`, bryn))
	tablet := h.open(800, 1100)
	tablet.visit("/s/" + h.link + "?box=A1")
	tablet.page.MustElement("#own-tick").MustClick()
	mine.page.MustElement(fmt.Sprintf(`#tile-%d rect.on[data-label="A1"]`, ada))
	tablet.page.MustElementR("#own-hand button", "Hand up").MustClick()
	mine.see(fmt.Sprintf("#tile-%d .tile-why", ada), "hand up")

	// Ten boxes with the arrow keys and space.
	mine.page.MustElement(fmt.Sprintf("#tile-%d .tile-name", bryn)).MustClick()
	mine.see(".desk h2", "Bryn")
	mine.page.MustElement("#box-A1").MustFocus()
	for range 5 {
		mine.page.Keyboard.MustType(input.Space, input.ArrowRight)
	}
	mine.page.MustElement("#box-A2").MustFocus()
	mine.page.Keyboard.MustType('f')
	h.ticked(t, bryn, 1+5+7)

	h.down.Store(true)
	for _, label := range []string{"A4", "B4", "A4", "A4"} { // the third takes the first back, the fourth ticks it again
		mine.page.MustElement("#box-" + label).MustClick()
	}
	mine.see("#banner", "ticks wait|tick waits")
	tablet.page.MustElement("#own-tick").MustClick()
	tablet.see("#banner", "Draw on")
	mine.see(".desk .n", "15")
	h.down.Store(false)
	h.ticked(t, bryn, 15)
	h.ticked(t, ada, 2)
	mine.sent()
	tablet.sent()
	mine.page.MustReload().MustWaitLoad()
	mine.see(fmt.Sprintf("#tile-%d .tile-count", bryn), "15/63")
}

// A line tells at once what changed after its page was made, and only that.
func TestTheLineTellsWhatChangedMeanwhile(t *testing.T) {
	h := newHouse(t)
	c, bryn := h.signIn("owner@quay.example"), h.class.Students[1].ID
	made := time.Now().UnixMilli()
	c.post(fmt.Sprintf("/projects/%d/students/%d/ticks", h.project.ID, bryn), form{"label": "A1", "on": "1"}).location()
	for since, want := range map[string]bool{fmt.Sprint(made): true, "": false, "x": false, fmt.Sprint(made + 3_600_000): false, fmt.Sprint(made - 3_600_000): false} {
		ctx, stop := context.WithTimeout(context.Background(), 900*time.Millisecond)
		r, err := http.NewRequestWithContext(ctx, http.MethodGet, h.url+h.address("/projects/{project}/wall/live?since=")+since, nil)
		if err != nil {
			t.Fatal(err)
		}
		answer, err := c.http.Do(r)
		if err != nil {
			t.Fatal(err)
		}
		said, _ := io.ReadAll(answer.Body) // until the time is up
		answer.Body.Close()
		stop()
		if told := strings.Contains(string(said), fmt.Sprintf("event: student\ndata: %d\n", bryn)); told != want || !strings.Contains(string(said), "event: hello") {
			t.Errorf("since %q: told of Bryn: %v; want %v; it said %q", since, told, want, said)
		}
	}
}

// A tablet that opened its page once goes on without a network, after a
// reload too, and shows nobody else.
func TestTabletWithoutNetwork(t *testing.T) {
	h := newHouse(t)
	s := h.open(800, 1100)
	own := "/s/" + h.link
	s.visit(own)
	s.page.MustEval(`() => navigator.serviceWorker.ready.then(() => true)`)
	s.page.MustReload().MustWaitLoad() // now through the worker, which keeps it
	s.page.MustWait(`() => navigator.serviceWorker.controller !== null`)
	s.page.MustReload().MustWaitLoad()
	s.page.MustElement(".own-picture image")
	h.down.Store(true)
	s.page.MustReload().MustWaitLoad()
	s.page.MustElement(".own-first .own-whole") // nothing is drawn yet: the whole picture
	s.page.MustElement("#own-boxes").MustClick()
	s.see("#own-label", "A1")
	s.page.MustElement("#own-tick").MustClick()
	s.see("#own-label", "B1")
	s.unfold("#own-drawer summary", "Ways to look")
	s.press(".own-looks button", "Upside down")
	s.page.MustElement(`[data-look="upside"][aria-pressed="true"]`)
	s.page.MustElement(`.own-map [data-label="C5"]`).MustClick()
	s.see("#own-tick", "C5 is done")
	h.down.Store(false)
	h.ticked(t, h.class.Students[0].ID, 1)
	if html := s.page.MustHTML(); strings.Contains(html, "Bryn") {
		t.Error("Ada's tablet shows Bryn")
	}
}

// The road: a stage is closed until the checkpoint before it was passed; two
// who decide at once do not both have the last word; a verdict is taken back
// with its reason.
func TestRoadAndCheckpoints(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	base := h.address("/projects/{project}/students/{student}")
	for _, stage := range []string{"pick", "compose", "markup"} {
		c.post(base+"/stage", form{"stage": stage}).location()
	}
	c.post(base+"/stage", form{"stage": "draw"}).want(http.StatusUnprocessableEntity, "still closed")
	c.get(h.address("/projects/{project}/wall")).want(http.StatusOK, "needs a look")
	h.nobody().get("/s/"+h.link).want(http.StatusOK, "Wait for your teacher")
	c.post(base+"/verdict", form{"stage": "markup", "verdict": "again", "seen": "0", "note": "two boxes are oblong"}).location()
	c.post(base+"/verdict", form{"stage": "markup", "verdict": "passed", "seen": "0"}).want(http.StatusUnprocessableEntity, "Somebody else decided")
	said := func() []store.Verdict {
		state, err := h.db.RoadState(context.Background(), h.project.ID, h.class.Students[0].ID)
		if err != nil {
			t.Fatal(err)
		}
		return state.Verdicts[h.class.Students[0].ID]
	}
	list := said()
	if len(list) != 1 {
		t.Fatalf("verdicts %+v; want one", list)
	}
	seen := fmt.Sprint(list[0].ID)
	c.post(base+"/verdict", form{"stage": "markup", "verdict": "passed", "seen": seen, "by": "Ada's aunt"}).want(http.StatusUnprocessableEntity, "only the teacher approves")
	c.post(base+"/verdict", form{"stage": "markup", "verdict": "passed", "seen": seen}).location()
	c.post(base+"/verdict", form{"stage": "markup", "verdict": "passed", "seen": seen}).location() // sent twice, kept once
	c.post(base+"/stage", form{"stage": "draw"}).location()
	list = said()
	last := fmt.Sprint(list[len(list)-1].ID)
	c.post(base+"/verdict", form{"stage": "markup", "verdict": "taken back", "seen": last}).want(http.StatusUnprocessableEntity, "Write why")
	c.post(base+"/verdict", form{"stage": "markup", "verdict": "taken back", "seen": last, "note": "measured again"}).location()
	c.get(h.address("/projects/{project}/wall?student=")+fmt.Sprint(h.class.Students[0].ID)).want(http.StatusOK, "measured again")
	if list = said(); len(list) != 3 {
		t.Errorf("%d verdicts are kept; want all three", len(list))
	}
	c.post(h.address("/projects/{project}/road"), roadForm()).location() // which lets others approve
	c.get(h.address("/projects/{project}/wall?student=")+fmt.Sprint(h.class.Students[0].ID)).want(http.StatusOK, "Looked at by")
	list = said()
	c.post(base+"/verdict", form{"stage": "markup", "verdict": "passed", "seen": fmt.Sprint(list[len(list)-1].ID), "by": "Ada's aunt"}).location()
	if list = said(); list[len(list)-1].ByWhom != "Ada's aunt" {
		t.Errorf("the last look was by %q", list[len(list)-1].ByWhom)
	}
	for _, bad := range []form{{"stage": "markup", "verdict": "perhaps", "seen": last}, {"stage": "erase", "verdict": "passed", "seen": "0"}, {"stage": "markup", "verdict": "passed", "seen": "x"}} {
		c.post(base+"/verdict", bad).want(http.StatusUnprocessableEntity, "")
	}
	c.post(base+"/seat", form{"what": "flag", "flag": strings.Repeat("x", 130)}).want(http.StatusUnprocessableEntity, "shorter flag")
	c.post(base+"/seat", form{"what": "sit"}).want(http.StatusUnprocessableEntity, "Choose the hand")
	c.post(base+"/seat", form{"what": "absent", "on": "1"}).location()
	c.get(h.address("/projects/{project}/wall")).want(http.StatusOK, "away today")
	c.post(base+"/notes", form{"words": " "}).want(http.StatusUnprocessableEntity, "Write a note")
	c.post(base+"/notes", form{"words": "looks closely"}).location()
	c.get(h.address("/projects/{project}/wall?student=")+fmt.Sprint(h.class.Students[0].ID)).want(http.StatusOK, "looks closely")
}

func roadForm() form {
	f := form{"outline": "strips", "darks": "last", "helpers": "1"}
	for _, s := range lesson.NewRoad().Stages {
		f["on_"+string(s.Kind)], f["minutes_"+string(s.Kind)], f["check_"+string(s.Kind)] = "1", fmt.Sprint(s.Minutes), s.Checkpoint
	}
	return f
}

func TestRoadForm(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	road := h.address("/projects/{project}/road")
	c.post(road, roadForm()).location()
	p, err := h.db.Project(context.Background(), h.project.TeacherID, h.project.ID)
	if err != nil || p.Road == nil || p.Road.Outline != "strips" || len(p.Road.On()) != 10 {
		t.Fatalf("road %+v, %v", p.Road, err)
	}
	c.get(road).want(http.StatusOK, "Approved for ink")
	for field, bad := range map[string]struct{ typed, say string }{
		"minutes_draw": {"0", "takes 1 to 3000 minutes"}, "minutes_ink": {"long", "takes 1 to 3000 minutes"},
		"words_draw": {strings.Repeat("long ", 60), "shorter words"}, "needs_ink": {"1 pen, blue", "neither"},
		"outline": {"up", "utline is first or strips"},
	} {
		f := roadForm()
		f[field] = bad.typed
		c.post(road, f).want(http.StatusUnprocessableEntity, bad.say)
	}
}

// A road is made the teacher's own: stages named, moved, doubled and added, with materials,
// cautions, objectives and work for who is early; kept under a name, taken by another
// project, and nobody else's. What students did stays by its stage.
func TestOwnRoads(t *testing.T) {
	h := newHouse(t)
	c, ctx := h.signIn("owner@quay.example"), context.Background()
	road, student := h.address("/projects/{project}/road"), h.class.Students[0].ID
	now := func() lesson.Road {
		p, err := h.db.Project(ctx, h.project.TeacherID, h.project.ID)
		if err != nil {
			t.Fatal(err)
		}
		return p.EffectiveRoad()
	}
	if err := h.db.DoStage(ctx, h.project.TeacherID, h.project.ID, student, "pick", true); err != nil {
		t.Fatal(err)
	}
	f := roadForm()
	for field, v := range map[string]string{"title_erase": "Erase inside",
		"needs_tone": "3 brushes\n1 for 2 pan of colour, 10 % spare, used up", "care_tone": "paint",
		"words_tone": "Three layers, each dry.",
		"goal_words": "Clean whites", "goal_level": "Middle", "goal_measure": "boxes", "goal_within": "0.1", "extension": "A second frame\n\nPostcards", "invent": "1", "do": "twice:erase"} {
		f[field] = v
	}
	c.post(road, f).location()
	r := now()
	at := slices.IndexFunc(r.Stages, func(s lesson.Stage) bool { return s.ID == "erase-2" })
	tone, _ := r.Find("tone")
	if at < 1 || r.Stages[at-1].ID != "erase" || r.Stages[at].Title != "Erase inside" || len(tone.Needs) != 2 ||
		tone.Needs[1].Each != 0.5 || !slices.Equal(tone.Care, []lesson.Tool{lesson.Paint}) ||
		tone.Words != "Three layers, each dry." {
		t.Fatalf("the road is %+v", r)
	}
	if !r.Invent || r.Inventions(lesson.Tone) == nil || !slices.Equal(r.Extension,
		[]string{"A second frame", "Postcards"}) || len(r.Objectives) != 1 ||
		r.Objectives[0] != (lesson.Objective{Code: "own-1", Level: "middle", Words: "Clean whites",
			Measure: lesson.ByBoxes, Within: 0.1}) {
		t.Errorf("it is to reach %+v, and then %v", r.Objectives, r.Extension)
	}
	for _, do := range []string{"down:erase-2", "add:other", "up:other", "away:compose"} {
		f["do"] = do
		c.post(road, f).location()
	}
	if r = now(); r.Stages[1].ID == "compose" || r.Stages[len(r.Stages)-1].Kind != lesson.Reflect || r.Stages[len(r.Stages)-3].Kind != lesson.Other {
		t.Errorf("moved, the road is %+v", r.Stages)
	}
	f["do"] = "in:on-black"
	c.post(road, f).location()
	c.get(h.address("/projects/{project}/materials")).want(http.StatusOK, "silver pen", "white pencil")
	f["do"] = "up:ink"
	for range 5 {
		c.post(road, f).location()
	}
	c.get(road).want(http.StatusOK, "comes before any line is drawn", "Something else", "Clean whites", "Postcards")
	c.get(h.address("/projects/{project}/wall")).want(http.StatusOK, "Mark up the sheet")
	c.get(h.address("/projects/{project}/students/{student}/report")).want(http.StatusOK, "Clean whites")
	c.post(h.address("/projects/{project}/students/{student}/reached"), form{"objective": "own-1", "on": "1"}).location()
	c.post(h.address("/projects/{project}/students/{student}/reached"), form{"objective": "form", "on": "1"}).want(http.StatusUnprocessableEntity, "one of this project")

	c.post(road+"/keep", form{"name": ""}).want(http.StatusUnprocessableEntity, "Give the road a name")
	c.post(road+"/keep", form{"name": "Wash, three layers"}).location()
	c.post(road+"/keep", form{"name": "Wash, three layers"}).location() // in its place, not beside it
	kept, err := h.db.OwnRoads(ctx, h.project.TeacherID)
	if err != nil || len(kept) != 1 {
		t.Fatalf("%d roads are kept, %v", len(kept), err)
	}
	c.get(road).want(http.StatusOK, "★ Wash, three layers")
	c.post(road+"/take", form{"take": "way-views"}).location()
	if r = now(); r.Way != lesson.ByViews || len(r.Counts()) != 4 {
		t.Errorf("taken, the road is %+v", r)
	}
	c.get(road+"?take="+fmt.Sprintf("own-%d", kept[0].ID)).want(http.StatusOK, "Take the road “Wash, three layers”?", "Of 1 stages that students have done, 1 stand on this road")
	c.post(road+"/take", form{"take": fmt.Sprintf("own-%d", kept[0].ID)}).location()
	if r = now(); r.Way != lesson.ByBox || len(r.Objectives) != 1 {
		t.Errorf("the own road was taken as %+v", r)
	}
	c.post(road+"/take", form{"take": "own-999999"}).want(http.StatusUnprocessableEntity, "from the list")
	c.post(road+"/drop", form{"road": fmt.Sprint(kept[0].ID)}).location()
	c.post(road+"/drop", form{"road": fmt.Sprint(kept[0].ID)}).want(http.StatusNotFound)
	if got := now(); len(got.Objectives) != 1 {
		t.Error("dropping a kept road changed the project that took it")
	}
}

// Where parts with names are counted the wall, the desk, the student's page and the report
// count them; boxes ticked before are history, and count again when boxes do; a new grid
// leaves the parts as they are.
func TestNamedParts(t *testing.T) {
	h := newHouse(t)
	c, ctx := h.signIn("owner@quay.example"), context.Background()
	road, ticks, wall := h.address("/projects/{project}/road"), h.address("/projects/{project}/students/{student}/ticks"), h.address("/projects/{project}/wall")
	c.post(ticks, form{"label": "A1", "on": "1", "plan": "1"}).location()
	c.get(road+"?take=way-views").want(http.StatusOK, "0 ticks go on counting. 1 are kept as history: they count again when boxes are counted again.")
	c.post(road+"/take", form{"take": "way-views"}).location()
	c.get(wall).want(http.StatusOK, "0 of 4 views done", `data-label="p-2"`, "Left side")
	c.post(ticks, form{"label": "A1", "on": "1", "plan": "1"}).want(http.StatusUnprocessableEntity)
	c.post(ticks, form{"label": "p-5", "on": "1", "plan": "1"}).want(http.StatusUnprocessableEntity)
	c.post(ticks, form{"label": "p-2", "on": "1", "plan": "1"}).location()
	own := h.nobody()
	link := "/s/" + h.link
	own.get(link).want(http.StatusOK, "1</b> of 4 views done", `data-part="p-1"`, "Left side")
	own.post(link+"/ticks", form{"label": "p-1", "on": "1"}).location()
	c.get(h.address("/projects/{project}/students/{student}/report")).want(http.StatusOK, "2 of 4 views ticked off")
	c.get("/").want(http.StatusOK)
	c.get(h.address("/projects/{project}/report")).want(http.StatusOK)
	for _, p := range []string{"/projector", "/round", "/demonstration"} {
		c.get(h.address("/projects/{project}") + p).want(http.StatusOK)
	}
	other := planForm(h.sample.Plan.Typed, 1)
	other["method"], other["parts"] = "parts", "5x5"
	c.post(h.address("/projects/{project}/plan"), other).want(http.StatusOK, "Kept")
	c.get(wall).want(http.StatusOK, "2 of 4 views done")
	c.post(road+"/take", form{"take": "way-"}).location()
	own.get(link).want(http.StatusOK, "boxes done")
	state, err := h.db.Ticks(ctx, h.project.ID)
	if err != nil || !state[h.class.Students[0].ID]["p-1"] {
		t.Errorf("the parts' ticks are gone: %v, %v", state, err)
	}
}

// The feed is read by an independent parser (github.com/emersion/go-ical
// v0.0.0-20250329121855): as many events as lessons, each with its times and a
// name of its own; a lesson that falls out moves the count.
func TestCalendarAndFeed(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	page := h.address("/classes/{class}/calendar")
	good := form{"from": "2026-11-24", "until": "2026-12-22", "day0": "1", "start0": "9:30", "minutes0": "50",
		"day1": "3", "start1": "13:05", "minutes1": "45", "setup": "5", "clear": "5",
		"holidays": "2026-12-08, 2026-12-10"}
	c.post(page, good).location()
	c.get(page).want(http.StatusOK, "7 lessons")
	feed := h.nobody().get("/feed/"+h.feed+".ics").want(http.StatusOK, "BEGIN:VCALENDAR")
	if got := feed.header.Get("Content-Type"); !strings.HasPrefix(got, "text/calendar") {
		t.Errorf("the feed is %q", got)
	}
	cal, err := goical.NewDecoder(strings.NewReader(feed.body)).Decode()
	if err != nil {
		t.Fatal(err)
	}
	events, ids := cal.Events(), map[string]bool{}
	for _, e := range events {
		from, err1 := e.DateTimeStart(time.UTC)
		to, err2 := e.DateTimeEnd(time.UTC)
		id, err3 := e.Props.Text(goical.PropUID)
		if err1 != nil || err2 != nil || err3 != nil || to.Sub(from) != 50*time.Minute && to.Sub(from) != 45*time.Minute || from.Weekday() != time.Tuesday && from.Weekday() != time.Thursday {
			t.Errorf("event from %v to %v, %v %v %v", from, to, err1, err2, err3)
		}
		ids[id] = true
	}
	if len(events) != 7 || len(ids) != 7 {
		t.Errorf("%d events with %d names; want 7", len(events), len(ids))
	}
	for i, line := range strings.Split(feed.body, "\r\n") {
		if len(line) > 75 {
			t.Errorf("line %d has %d octets; RFC 5545, 3.1 allows 75", i+1, len(line))
		}
	}
	h.nobody().get("/feed/guess.ics").want(http.StatusNotFound, "")
	for field, bad := range map[string]struct{ typed, say string }{
		"from": {"tomorrow", "anted a date"}, "until": {"2026-11-01", "must come after"}, "start0": {"25:00", "a start such as 9:30"}, "minutes0": {"0", "1 to 600 minutes"},
		"setup": {"-1", "0 to 120 minutes"}, "clear": {"60", "nothing is left to draw"}, "holidays": {"Christmas", "anted a date"},
	} {
		f := form{}
		for k, v := range good {
			f[k] = v
		}
		f[field] = bad.typed
		a := c.post(page, f).want(http.StatusUnprocessableEntity, bad.say)
		if !a.says(bad.typed) {
			t.Errorf("%s %q is not kept", field, bad.typed)
		}
	}
}

// A list is shown before it is taken in, odd rows are named, and taking it in
// twice adds nobody.
func TestTakingInAList(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	list := h.address("/classes/{class}/roster")
	csv := "First name,Surname,ID,Hand\nAda,Quay,7,left\nCleo,Sand,8,\nCleo,Pier,9,both\n,,10,\n"
	page := c.post(list, nil, file{"list", "7b.csv", []byte(csv)}).want(http.StatusOK, "<b>2</b> new, <b>1</b> changed")
	for _, say := range []string{"2 odd rows", "row 4: the hand is", "row 5: no name", "Cleo S", "Cleo P"} {
		if !page.says(say) {
			t.Errorf("the preview does not say %q", say)
		}
	}
	entries := `[{"name":"Ada","outside_id":"7","hand":"left"},{"name":"Cleo S","outside_id":"8"},{"name":"Cleo P","outside_id":"9"}]`
	for range 2 {
		c.post(list+"/keep", form{"entries": entries}).location()
	}
	class, err := h.db.Class(context.Background(), h.project.TeacherID, h.class.ID)
	if err != nil || len(class.Students) != 4 || class.Students[0].Hand != "left" {
		t.Errorf("%d students, %+v, %v; want four, Ada left-handed", len(class.Students), class.Students[0], err)
	}
	// A list of ours comes back as it was, formulas and all.
	c.post(list+"/keep", form{"entries": `[{"name":"=1+1","hand":"left","units":"cm","pace":"slow","team":"Pier, west","home":"window, \"old\" ruler","needs":"high contrast, wings"}]`}).location()
	out := c.get(h.address("/classes/{class}/list.csv")).want(http.StatusOK, `'=1+1,,"Pier, west",left,cm,slow,"window, ""old"" ruler",high contrast`)
	second, err := h.db.AddClass(context.Background(), h.project.TeacherID, "Again")
	if err != nil {
		t.Fatal(err)
	}
	back := fmt.Sprintf("/classes/%d/roster", second.ID)
	shown := c.post(back, nil, file{"list", "own.csv", []byte(out.body)}).want(http.StatusOK, "<b>5</b> new")
	_, rest, _ := strings.Cut(shown.body, `name="entries" value="`)
	kept, _, _ := strings.Cut(rest, `"`)
	c.post(back+"/keep", form{"entries": html.UnescapeString(kept)}).location()
	if again := c.get(fmt.Sprintf("/classes/%d/list.csv", second.ID)); again.body != out.body {
		t.Errorf("the list went out as\n%s\nand came back as\n%s", out.body, again.body)
	}
	var large strings.Builder
	for i := range 5000 {
		fmt.Fprintf(&large, "S%d\n", i)
	}
	c.post(list, nil, file{"list", "all.csv", []byte(large.String())}).want(http.StatusOK, "room for 55 more")
	var junk bytes.Buffer
	z := zip.NewWriter(&junk)
	z.Close()
	for name, b := range map[string][]byte{"empty.csv": nil, "photo.jpg": h.sample.Photo, "none.zip": junk.Bytes()} {
		c.post(list, nil, file{"list", name, b}).want(http.StatusUnprocessableEntity, "This is no list of students")
	}
	for _, bad := range []string{"", "[]", "{", `[{"name":""}]`, `[{"name":"X","hand":"foot"}]`} {
		c.post(list+"/keep", form{"entries": bad}).want(http.StatusUnprocessableEntity, "did not arrive whole")
	}
}

// Today is a day: when the class comes next and what that lesson needs, what waits, and of
// many projects a few large and the rest in a list.
func TestTodaySaysTheNextLesson(t *testing.T) {
	h := newHouse(t)
	c, tomorrow := h.signIn("owner@quay.example"), time.Now().AddDate(0, 0, 1)
	c.post(h.address("/classes/{class}/calendar"), form{"from": tomorrow.Format(time.DateOnly), "until": tomorrow.AddDate(0, 0, 20).Format(time.DateOnly),
		"day0": fmt.Sprint((int(tomorrow.Weekday()) + 6) % 7), "start0": "9:30", "minutes0": "50", "setup": "5", "clear": "5"}).location()
	day := c.get("/").want(http.StatusOK, tomorrow.Format("Mon 2 Jan"), "<b>9:30</b>", "Materials", "For the projector")
	if day.says("Waiting for you") || day.says("more-projects") {
		t.Error("something waits, or is too much, of one project")
	}
	h.grow(12, 0)
	if many := c.get("/").want(http.StatusOK, "more-projects"); strings.Count(many.body, "<article") != 6 {
		t.Errorf("%d projects are shown large; want six", strings.Count(many.body, "<article"))
	}
}

// Several classes draw one project, and each keeps its ticks.
func TestTwoClassesOneProject(t *testing.T) {
	h := newHouse(t)
	c, ctx := h.signIn("owner@quay.example"), context.Background()
	second, err := h.db.AddClass(ctx, h.project.TeacherID, "8 Pier")
	if err != nil {
		t.Fatal(err)
	}
	if err := h.db.AddStudents(ctx, h.project.TeacherID, second.ID, []string{"Xenia"}); err != nil {
		t.Fatal(err)
	}
	ticks := h.address("/projects/{project}/students/{student}/ticks")
	c.post(ticks, form{"label": "A1", "on": "1"}).location()
	at := c.post(h.address("/projects/{project}/class"), form{"class": fmt.Sprint(second.ID)}).location()
	c.get(at).want(http.StatusOK, "Xenia")
	if at == h.address("/projects/{project}/wall") {
		t.Error("both classes have one wall")
	}
	c.get("/").want(http.StatusOK, strings.TrimSuffix(at, "wall")+"print") // each its own row, with its own way on
	for _, page := range []string{"print", "check", "report", "log", "projector", "finish"} {
		c.get(strings.TrimSuffix(at, "wall")+page).want(http.StatusOK, "")
	}
	c.get(h.address("/projects/{project}-999/wall")).want(http.StatusNotFound, "")
	if err := h.db.Tick(ctx, h.project.TeacherID, h.project.ID, h.class.Students[1].ID, "A2", true, time.Now()); err != nil {
		t.Errorf("a student of the first class: %v", err)
	}
	c.get(h.address("/projects/{project}/wall")).want(http.StatusOK, `<b class="n">1</b>/63`)
	c.post(strings.TrimSuffix(at, "wall")+"class/drop", nil).location()
	c.get(at).want(http.StatusNotFound, "")
	c.get(h.address("/projects/{project}/wall")).want(http.StatusOK, "Ada")
}

// Old ticks that waited for a connection keep their time, within reason.
func TestTickTimes(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	ticks := h.address("/projects/{project}/students/{student}/ticks")
	ago := func(d time.Duration) string { return fmt.Sprint(time.Now().Add(-d).UnixMilli()) }
	for label, at := range map[string]string{"A1": ago(2 * time.Hour), "A2": ago(-time.Hour), "A3": ago(1000 * time.Hour), "A4": "yesterday"} {
		c.post(ticks, form{"label": label, "on": "1", "at": at}).location()
	}
	times, err := h.db.TickTimes(context.Background(), h.project.ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, tick := range times[h.class.Students[0].ID] {
		old := time.Since(tick.TickedAt) > time.Hour
		if old != (tick.Label == "A1") || tick.TickedAt.After(time.Now().Add(time.Minute)) {
			t.Errorf("%s was ticked %v ago", tick.Label, time.Since(tick.TickedAt))
		}
	}
}

// Help comes step by step, as far as it is asked for: dots, words, then the lines one by
// one. It is counted in the report, goes on without a network, and begins where the
// teacher set it.
func TestHelpStepByStep(t *testing.T) {
	h := newHouse(t)
	var boxes map[string]struct{ Lines []any }
	if err := json.Unmarshal([]byte(h.nobody().get("/s/"+h.link+"/boxes").want(http.StatusOK, "dots").body), &boxes); err != nil {
		t.Fatal(err)
	}
	var busy []string
	for label, b := range boxes {
		if len(b.Lines) > 1 {
			busy = append(busy, label)
		}
	}
	slices.Sort(busy)
	s := h.open(800, 1100)
	s.visit("/s/" + h.link + "?box=" + busy[0])
	more := func(words string) {
		s.see("#own-more", words)
		s.page.MustElement("#own-more").MustClick()
	}
	dots := func() int { return len(s.page.MustElements(".own-dot")) }
	s.page.MustElement("#own-help:not([hidden])")
	if n := dots(); n != 0 {
		t.Errorf("%d dots before anybody asked", n)
	}
	more("Help me see")
	s.see("#own-guess", "You first")
	if n := dots(); n != 0 {
		t.Errorf("%d dots before anything was marked", n)
	}
	// Two presses on the upper side, the second taken back by a third; then one by keys.
	for _, x := range []float64{0.3, 0.7, 0.7} {
		s.page.MustEval(`(x) => { const svg = document.querySelector("#own-picture svg"), box = svg.querySelector(".own-frame").getBoundingClientRect();
			svg.dispatchEvent(new PointerEvent("pointerdown", { clientX: box.x + x * box.width, clientY: box.y + 1, bubbles: true })); }`, x)
	}
	s.unfold("#own-guess summary", "By keys")
	s.page.MustElement("#own-onside").MustSelect("left")
	s.page.MustElement("#own-put").MustClick()
	if n := len(s.page.MustElements(".own-guess:not(.own-halo)")); n != 2 {
		t.Errorf("%d marks stand; want two", n)
	}
	s.page.MustElement("#own-see").MustClick()
	s.page.MustElement(".own-dot")
	s.see("#own-missed", "near|Near|off|no line crosses|did not mark")
	more("in words")
	s.see("#own-words", "line|border|shape")
	for range 20 { // two more sentences a press, until all are said
		if strings.Contains(s.page.MustElement("#own-more").MustText(), "one by one") {
			break
		}
		s.page.MustElement("#own-more").MustClick()
	}
	more("one by one")
	s.page.MustElement(".own-line.own-now")
	s.sent()
	h.down.Store(true)
	s.page.MustElement(`.own-map [data-label="` + busy[1] + `"]`).MustClick()
	more("Help me see")
	s.page.MustElement("#own-skip").MustClick()
	s.page.MustElement(".own-dot")
	h.down.Store(false)
	s.sent()
	c := h.signIn("owner@quay.example")
	report := h.address("/projects/{project}/students/{student}/report")
	c.get(report).want(http.StatusOK, "dots, words and the lines in one box")
	c.get(report).want(http.StatusOK, "dots at the crossings in one box")
	c.post(h.address("/projects/{project}/links"), form{"do": "help", "help": "words", "finest": "quarters"}).location()
	c.get(h.address("/projects/{project}/links")).want(http.StatusOK, `<option value="words" selected>`)
	for _, wrong := range []form{{"do": "help", "help": "all", "finest": "thirds"}, {"do": "help", "help": "dots", "finest": "sevenths"}} {
		c.post(h.address("/projects/{project}/links"), wrong).want(http.StatusUnprocessableEntity, "where help begins")
	}
	s.visit("/s/" + h.link + "?box=" + busy[0])
	s.see("#own-words", "line")
	nobody := h.nobody()
	nobody.post("/s/"+h.link+"/help", form{"label": "Z9", "help": "dots"}).want(http.StatusUnprocessableEntity, "not in the plan")
	nobody.post("/s/"+h.link+"/help", form{"label": "A1", "help": "all"}).want(http.StatusUnprocessableEntity, "not in the plan")
	nobody.get("/s/x/boxes").want(http.StatusNotFound, "Ask your teacher")
	nobody.post("/s/x/help", form{"label": "A1", "help": "dots"}).want(http.StatusNotFound, "")
}

// On the projector the class sees its maps, the stage and what is called, and no menu or name of a teacher: all of it on
// one screen, in letters of a thirtieth of its height at least. What is called stands there without loading anew.
func TestProjectorFillsTheScreen(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	at := h.address("/projects/{project}/projector")
	s := h.open(1920, 1080)
	s.signIn()
	s.visit(at)
	looks := s.page.MustEval(`() => {
		const shown = [...document.querySelectorAll("body *")].filter((e) => e.checkVisibility() && !e.closest("svg, .visually-hidden, .skip")
			&& [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim()));
		return {
			small: shown.filter((e) => parseFloat(getComputedStyle(e).fontSize) < innerHeight / 30).map((e) => e.textContent.trim()),
			menu: !!document.querySelector(".topbar")?.checkVisibility(),
			over: document.documentElement.scrollHeight - innerHeight,
			maps: document.querySelector(".projector-maps").getBoundingClientRect().height / innerHeight,
		};
	}`)
	if small := looks.Get("small").Arr(); len(small) > 0 {
		t.Errorf("letters under a thirtieth of the screen: %v", small)
	}
	if looks.Get("menu").Bool() || looks.Get("over").Int() > 0 || looks.Get("maps").Num() < 0.5 {
		t.Errorf("the projector shows %s", looks.JSON("", ""))
	}
	c := h.signIn("owner@quay.example")
	c.post(h.address("/projects/{project}/call"), form{"words": "Look up, please"})
	s.see(".projector-call", "Look up, please")
}
