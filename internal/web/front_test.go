package web

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/demo"
	"zestysketch/internal/store"
)

// A teacher shows three boxes by keys: what one screen shows the projector shows too, the
// dots first, then a line at each press; a tablet leads it as well.
func TestDemonstration(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	at := h.address("/projects/{project}/demonstration")
	projector, tablet := h.open(1280, 800), h.open(800, 1100)
	for _, s := range []*screen{projector, tablet} {
		s.signIn()
		s.visit(at)
		s.page.MustElement("#front-box svg")
	}
	first := projector.page.MustElement("#front-label").MustText()
	for range 3 {
		label := projector.page.MustElement("#front-label").MustText()
		for range 3 {
			projector.page.Keyboard.MustType(input.ArrowRight)
		}
		projector.page.Keyboard.MustType('n')
		projector.page.MustWait(`(was) => document.getElementById("front-label").textContent !== was`, label)
	}
	tablet.see("#front-label", "^"+projector.page.MustElement("#front-label").MustText()+"$")
	if projector.page.MustElement("#front-label").MustText() == first {
		t.Errorf("three boxes on it is still %s", first)
	}
	tablet.page.MustElement(`[data-press="upside"]`).MustClick()
	projector.page.MustElement(`[data-press="upside"][aria-pressed="true"]`)
	tablet.page.MustElement(`[data-press="covered"]`).MustClick()
	projector.page.MustElement(".front-cover")

	c := h.signIn("owner@quay.example")
	c.post(at, form{"box": "E6", "step": "1"}).location()
	projector.see("#front-label", "E6")
	projector.see("#front-say", "dots first")
	projector.page.MustElement(".own-dot")
	for _, wrong := range []form{{"box": "Z99", "step": "1"}, {"box": "A1", "step": "-1"}, {"box": "A1", "step": "soon"}, {"step": "1"}} {
		c.post(at, wrong).want(http.StatusUnprocessableEntity, "Choose a box")
	}
	h.down.Store(true)
	projector.page.Keyboard.MustType('n') // the screen goes on alone
	projector.see("#banner", "goes on")
	h.down.Store(false)
}

// What a photo got wrong is made an exercise of, without a network too: which of two is one's own drawing, and where
// a line first leaves the picture's. Of a drawing without mistakes there is none, and none of it on the projector.
func TestOwnMistakes(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.work()
	s := h.open(390, 844)
	s.withAxe()
	own := "/s/" + h.link
	taken := 0
	photo := func(hand demo.Hand) {
		taken++
		s.visit(own + "/photo")
		s.page.MustElement("#photo-page[data-ready]")
		s.page.MustElement("#photo").MustSetFiles(s.save("mine.jpg", h.photographed(0, h.project.ID, hand)))
		s.see("#photo-says", "looked at") // of an earlier photo the page says so too
		for until := time.Now().Add(time.Minute); ; time.Sleep(100 * time.Millisecond) {
			all, err := h.db.CheckIns(t.Context(), h.project)
			if err != nil {
				t.Fatal(err)
			}
			if n := len(slices.DeleteFunc(all, func(c store.CheckIn) bool { return c.PictureID == h.checkIn.PictureID || c.Gist == nil })); n == taken {
				break
			} else if time.Now().After(until) {
				t.Fatalf("%d of %d photos were looked at", n, taken)
			}
		}
		s.page.MustWait(`() => !document.querySelector("[data-working]")`)
		s.visit(own + "/train")
		s.page.MustElement("#train[data-ready]")
	}
	photo(demo.Hand{Size: 1})
	if s.page.MustHas(`[data-kind="yours"]`) || s.page.MustHas(`[data-kind="leaves"]`) {
		t.Error("a right drawing is made an exercise of")
	}
	photo(demo.Hand{Size: 1, Distortion: func(at plane.Point) plane.Point { // what is low leans to the right
		return plane.Pt(14*min(1, max(0, (at.Y-220)/60)), 0)
	}})
	s.page.MustElement(`[data-kind="yours"]`)
	h.down.Store(true)
	s.page.MustElement(`[data-kind="yours"]`).MustClick()
	for range 6 {
		mine := s.page.MustEval(`() => [...document.querySelectorAll(".train-own")].findIndex((i) => Number(i.getAttribute("x")) === 0)`).Int()
		s.page.MustElement(fmt.Sprintf(`#train-pick [data-option="%d"]`, mine)).MustClick()
		s.see("#train-before", "^Right. The (first|second) one. In [A-Z][0-9]+ your lines sit .* too far right")
	}
	s.see("#train-sum", "6 of 6 right")
	s.axe("which is yours", true)
	s.page.MustElement(`[data-kind="leaves"]`).MustClick()
	for range 6 {
		s.page.MustElement("#train-picture [data-dots]").MustClick()
		s.page.MustElement("#train-place [data-keep]").MustClick()
		s.see("#train-before", "It is where the green mark stands. In [A-Z][0-9]+ your line")
		s.axe("where it leaves", true)
		s.page.MustElement("#train-go").MustClick()
	}
	h.down.Store(false)
	s.sent()
	s.visit(own + "/train")
	s.page.MustElementR("li", "Which is yours. nearly all right")
	s.page.MustElementR("li", "Where does it leave the line. (mostly|now)")
	projector := h.signIn("owner@quay.example").get(h.address("/projects/{project}/eyes")).want(http.StatusOK, "Copy the dot")
	if strings.Contains(projector.body, `data-kind="yours"`) {
		t.Error("one student's mistakes are an exercise for the class")
	}
}

// An exercise is played to its end without a network and is sent when it is back, once; one
// of choices is played by keys. The report says how they went, and what is no exercise is
// refused.
func TestEyeTraining(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(800, 1100)
	own := "/s/" + h.link + "/train"
	s.visit(own)
	s.page.MustElement("#train[data-ready]")
	h.down.Store(true)
	s.page.MustElement(`[data-kind="halve"]`).MustClick()
	s.see("#train-count", "^1 of 12$")
	for range 11 { // the mark is in hand, then the true one is seen
		s.page.Keyboard.MustType(input.ArrowRight, input.Enter)
		s.see("#train-before", "It is .* green")
		s.page.MustElement(".train-true .train-mark")
		s.page.Keyboard.MustType(input.Enter)
	}
	s.page.MustElement("#train-stop").MustClick() // what was done is kept
	s.see("#train-sum", "Mostly|Now to one side")
	if n := len(s.page.MustElements("#train-tries circle")); n != 11 {
		t.Errorf("%d tries are shown; want eleven", n)
	}
	s.see("#banner", "will be sent")
	h.down.Store(false)
	s.sent()
	s.visit(own)
	s.page.MustElementR("li", "A half, a third, a quarter: (mostly|now)")
	s.page.MustElement("#train[data-ready]")
	s.page.MustElement(`[data-kind="longer"]`).MustClick()
	s.see("#train-count", "^1 of 30$")
	for i := range 30 {
		s.page.Keyboard.MustType([]input.Key{input.ArrowLeft, input.ArrowRight}[i%2])
		s.see("#train-before", "^Right|^No. The (left|right) one")
	}
	s.see("#train-sum", "of 30 right")
	s.sent()
	s.visit(own)
	s.page.MustElementR("li", "Which is longer")
	s.page.MustElement("#train[data-ready]")
	s.page.MustElement(`[data-kind="along"]`).MustClick()
	s.page.MustElement("#train-picture svg")
	c := h.signIn("owner@quay.example")
	c.get(h.address("/projects/{project}/students/{student}/report")).want(http.StatusOK, "Which is longer")
	s.page.MustElement("#train-stop").MustClick()
	s.page.MustElement(`[data-kind="copy"]`).MustClick()
	s.page.MustElement("#train-picture [data-dots]").MustClick() // into its middle, for ten dots
	for range 10 {
		s.page.MustElement("#train-place [data-keep]").MustClick()
		s.page.MustElement("#train-go").MustClick()
	}
	s.sent()
	s.visit(own)
	s.page.MustElementR("li", "Copy the dot: (mostly|now)")
	s.page.MustElement("#train[data-ready]")
	s.page.MustElement(`[data-kind="order"]`).MustClick()
	for range 15 {
		s.page.Keyboard.MustType('1', '2', input.Backspace, '3', '4', '2')
	}
	s.sent()
	s.visit(own)
	s.page.MustElementR("li", "Light to dark: (mostly|now)")
	nobody := h.nobody()
	nobody.get("/s/x/train").want(http.StatusNotFound, "Ask your teacher")
	twice := form{"kind": "angle", "trials": "10,11 20,21 30,31 40,41 50,51 60,61", "at": fmt.Sprint(time.Now().UnixMilli())}
	for range 2 {
		nobody.post(own, twice).location()
	}
	list, err := h.db.Trainings(context.Background(), h.project.ID, h.class.Students[0].ID)
	if err != nil || len(list) != 5 {
		t.Errorf("%d exercises are kept, %v; want five", len(list), err)
	}
	for _, wrong := range []form{{"kind": "sums", "trials": "1,1"}, {"kind": "halve", "trials": "a,b c,d e,f g,h i,j k,l"}, {"kind": "halve"}} {
		nobody.post(own, wrong).want(http.StatusUnprocessableEntity, "")
	}
	nobody.post("/s/x/train", twice).want(http.StatusNotFound, "")
	earlier := list[0]
	earlier.DoneAt = earlier.DoneAt.Add(-8 * 24 * time.Hour)
	if err := h.db.Train(context.Background(), h.project.TeacherID, earlier); err != nil {
		t.Fatal(err)
	}
	nobody.get(own).want(http.StatusOK, "<svg") // two of a kind are a plot
	c.get(h.address("/projects/{project}/report")).want(http.StatusOK, "week by week")
	table := c.get(h.address("/projects/{project}/training.csv")).want(http.StatusOK, "Misses by").body
	if rows := strings.Count(strings.TrimSpace(table), "\n"); rows != 6 {
		t.Errorf("%d exercises are exported; want six:\n%s", rows, table)
	}
	c.get(h.address("/projects/{project}/report.xlsx")).want(http.StatusOK, "PK")
	c.get(h.address("/projects/{project}/report.pdf")).want(http.StatusOK, "%PDF")
}

// A class trains together: a task, its answer at a key, the next one; nobody is named.
func TestEyesTogether(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	s.visit(h.address("/projects/{project}/eyes"))
	s.page.MustElement("#together[data-ready]")
	s.page.MustElement("#together-picture svg") // the first one stands there
	for _, kind := range []string{"along", "copy", "which", "halve", "mirror", "heads", "angle", "level", "longer", "darker", "order"} {
		s.page.MustElement(`[data-kind="` + kind + `"]`).MustClick()
		s.page.MustElement("#together-picture svg")
		if told := s.page.MustElement("#together-told").MustText(); told != "" {
			t.Errorf("%s tells its answer before anybody judged: %q", kind, told)
		}
		s.page.Keyboard.MustType(input.ArrowRight)
		if told := s.page.MustElement("#together-told").MustText(); told == "" {
			t.Errorf("%s does not tell its answer", kind)
		}
		s.page.Keyboard.MustType('h', 'e', input.ArrowRight, input.ArrowRight)
	}
	if text := s.page.MustElement("main").MustText(); strings.Contains(text, h.class.Students[0].Name) {
		t.Error("a name stands on the projector")
	}
}

// The empty shapes of a measured drawing stand beside the picture's.
func TestShapesBeside(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	shapes := h.address("/checkins/{checkin}/shapes")
	c.get(shapes).want(http.StatusNotFound, "") // not measured yet
	own, err := h.db.CheckIn(context.Background(), h.project.TeacherID, h.checkIn.ID)
	if err != nil {
		t.Fatal(err)
	}
	wide, high := own.Picture.Width, own.Picture.Height
	pic := fmt.Sprintf("0,0 %d,0 %d,%d 0,%d", wide, wide, high, high) // the picture itself, as a drawing of it
	c.post(h.address("/checkins/{checkin}/places"), form{"corners": pic, "version": "0"}).want(http.StatusOK, "")
	c.get(h.address("/checkins/{checkin}")).want(http.StatusOK, "Empty shapes, side by side")
	c.get(shapes).want(http.StatusOK, "class=\"shaped")
}

// What is not gone over in the second colour is named from the list, once a road carries the drawing over.
func TestGoneOver(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	img, err := picture.Decode(h.sample.Picture)
	if err != nil {
		t.Fatal(err)
	}
	red := image.NewRGBA(img.Rect)
	for y := range img.Rect.Dy() {
		for x := range img.Rect.Dx() {
			p := img.RGBAAt(x, y)
			if p.R < 150 && y < img.Rect.Dy()*2/3 { // the upper two thirds are gone over
				p = color.RGBA{200, 60, 50, 255}
			}
			red.SetRGBA(x, y, p)
		}
	}
	road := form{"on_draw": "1", "on_transfer": "1", "outline": "first", "darks": "first"}
	for _, k := range []string{"pick", "compose", "markup", "draw", "check", "transfer", "ink", "erase", "tone", "reflect"} {
		road["minutes_"+k] = "10"
	}
	c.post(h.address("/projects/{project}/road"), road).location()
	var traced bytes.Buffer
	if err := png.Encode(&traced, red); err != nil {
		t.Fatal(err)
	}
	whole := fmt.Sprintf("0,0 %d,0 %d,%d 0,%d", img.Rect.Dx(), img.Rect.Dx(), img.Rect.Dy(), img.Rect.Dy())
	for k, photo := range []struct {
		bytes []byte
		says  string
	}{{h.sample.Picture, "No second colour shows"}, {traced.Bytes(), "Not gone over yet: <b>"}} {
		pic := store.Picture{TeacherID: h.project.TeacherID, Name: "photo", Width: img.Rect.Dx(), Height: img.Rect.Dy(), Hash: bytes.Repeat([]byte{byte(k + 1)}, 32), Purpose: store.ForCheckIn}
		full := store.PictureFile{Role: store.Full, Kind: "image/png", Bytes: photo.bytes}
		view := full
		view.Role = store.View
		checkIn := store.CheckIn{ProjectID: h.project.ID, StudentID: h.class.Students[0].ID}
		if err := h.db.AddPicture(t.Context(), &pic, []store.PictureFile{full, view}); err != nil {
			t.Fatal(err)
		}
		if checkIn.PictureID = pic.ID; h.db.AddCheckIn(t.Context(), h.project.TeacherID, &checkIn) != nil {
			t.Fatal("no check-in was added")
		}
		at := fmt.Sprintf("/checkins/%d", checkIn.ID)
		c.get(at+"/retraced").want(http.StatusNotFound, "") // not measured yet
		c.post(at+"/places", form{"corners": whole, "version": "0"}).want(http.StatusOK, "Gone over in the second colour?")
		got := c.get(at+"/retraced").want(http.StatusOK, photo.says)
		if strings.Contains(photo.says, "Not") && (!strings.Contains(got.body, "missed") || strings.Count(got.body, "<polyline") < 4) {
			t.Errorf("drawn: %.900s", got.body)
		}
	}
}
