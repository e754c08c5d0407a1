package web

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"math"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
)

// Two pictures are brought to one height by two points pressed on each, a further line is
// carried across, and all of it is printed.
func TestPicturesAtOneHeight(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	at := h.address("/projects/{project}/views")
	s.visit(at)
	s.see("#lined", "Drag the top and the bottom on this picture")
	s.page.MustElement("#picture").MustSetFiles(s.save("side.png", s.sample.Picture))
	s.press("button", "Add it")
	s.see("#lined", "on every picture")
	s.page.MustElement("#views[data-ready]")
	for i, points := range [][2]float64{{200, 2100}, {500, 1850}} {
		card := fmt.Sprintf(".pressed section:nth-child(%d) ", i+1)
		s.drag(card+`[data-what="top"]`, 800, points[0])
		s.drag(card+`[data-what="bottom"]`, 800, points[1])
	}
	s.see("#lined", "each is .* from line to line")
	views, err := h.db.Views(context.Background(), h.project.ID)
	if err != nil || len(views) != 2 || math.Abs(views[1].TopY-500) > 6 || math.Abs(views[1].BottomY-1850) > 6 || !views[0].Pressed {
		t.Fatalf("%+v, %v; want points where they were dragged to, to the screen's pixel", views, err)
	}
	for _, card := range []string{"1", "2"} {
		s.page.MustElement(".pressed section:nth-child(" + card + ") [placeholder]").MustInput("rim")
		s.page.MustElementR(".pressed section:nth-child("+card+") button", "Add a line").MustClick()
		s.page.MustElement(".pressed section:nth-child(" + card + `) [data-mark="rim"]`)
		s.page.MustElement("#views[data-ready]")
	}
	rim := s.page.MustElement(`.pressed section:nth-child(2) [data-mark="rim"]`)
	rim.MustFocus()
	saved := s.page.MustWaitRequestIdle()
	s.page.Keyboard.Press(input.ShiftLeft)
	for range 6 {
		s.page.Keyboard.MustType(input.ArrowDown)
	}
	s.page.Keyboard.Release(input.ShiftLeft)
	saved()
	s.see("#lined", "its rim stands .* lower than the line")
	s.press("button", "hang as a pair")
	s.page.MustElementR("button", "Set them apart")
	if why := s.page.MustEval(`() => document.documentElement.scrollWidth > innerWidth ? "wider than the window" : ""`).Str(); why != "" {
		t.Error(why)
	}

	c := h.signIn("owner@quay.example")
	for n := 1; n <= 2; n++ {
		if _, err := png.Decode(strings.NewReader(c.get(h.address(fmt.Sprintf("/projects/{project}/print/page.png?kind=views&paper=A4&who=everyone&chosen=1&page=%d",
			n))).want(http.StatusOK, "").body)); err != nil {
			t.Errorf("page %d: %v", n, err)
		}
	}
	one := h.address("/projects/{project}/views/{view}")
	c.post(one, form{"top": "9999999,1"}).want(http.StatusUnprocessableEntity, "on the picture, not beside it")
	c.post(one, form{"top": "up,down"}).want(http.StatusUnprocessableEntity, "not beside it")
	c.post(one, form{"name": strings.Repeat("x", 41)}).want(http.StatusUnprocessableEntity, "shorter name")
	c.post(one+"/marks", form{"name": ""}).want(http.StatusUnprocessableEntity, "Give the line a name")
	c.post(one+"/marks", form{"name": "rim", "remove": "1"}).location()
	c.post(one, form{"top": "800,2000", "bottom": "800,300"}).location() // pressed the other way round
	if v, err := h.db.View(context.Background(), h.project.ID, h.view.ID); err != nil || v.TopY != 300 || v.BottomY != 2000 {
		t.Errorf("%+v, %v; want the upper of the two on top", v, err)
	}
	c.post(one, form{"top": "800,300", "bottom": "800,301"}).location()
	c.get(at).want(http.StatusOK, "the bottom of “Front” on its picture")
	c.post(h.address("/projects/{project}/views/777"), form{"remove": "1"}).want(http.StatusNotFound, "")
	for range 4 {
		c.post(at, form{"from": fmt.Sprint(*h.project.PictureID)}).location()
	}
	c.post(at, form{"from": fmt.Sprint(*h.project.PictureID)}).want(http.StatusUnprocessableEntity, "6 pictures already")
	c.post(one, form{"remove": "1"}).location()
}

// through is a photo of a picture seen through a frame that is tilted: the picture inside
// four corners, grey round it.
func through(t *testing.T, seen *image.RGBA, corners plane.Quad, w, h int) []byte {
	t.Helper()
	to, err := picture.NewHomography(corners, plane.Box(float64(seen.Rect.Dx()), float64(seen.Rect.Dy())))
	if err != nil {
		t.Fatal(err)
	}
	photo := picture.Warp(seen, to.Apply, w, h, 2)
	for y := range h {
		for x := range w {
			if q := to.Apply(plane.Pt(float64(x), float64(y))); q.X < 0 || q.Y < 0 || q.X > float64(seen.Rect.Dx()) || q.Y > float64(seen.Rect.Dy()) {
				photo.SetRGBA(x, y, color.RGBA{90, 80, 70, 255})
			}
		}
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, photo, &jpeg.Options{Quality: 92}); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// A student who draws from life photographs what they see through the frame: it becomes
// their own picture, of the plan's shape, and nobody else's; it is gone with them.
func TestOwnView(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	ctx := context.Background()
	c := h.signIn("owner@quay.example")
	at, _, _ := strings.Cut(c.post("/projects", form{"name": "Kettle", "class": fmt.Sprint(h.class.ID), "road": "way-life"}, file{"picture", "light.png", h.sample.Picture}).location(), "?")
	var id uint64
	if _, err := fmt.Sscanf(at, "/projects/%d", &id); err != nil {
		t.Fatal(err)
	}
	p, err := h.db.Project(ctx, h.project.TeacherID, id)
	if err != nil {
		t.Fatal(err)
	}
	ask, f := plans.First(p.Name, p.Picture.Pixels(), measure.Inch, p.EffectiveRoad().Way, 0), form{"seen": "0"}
	for _, field := range ask.Fields() {
		f[field.Name] = *field.Value
	}
	c.post(at+"/plan", f).want(http.StatusOK, "Kept")
	student := h.class.Students[0]
	link, err := h.db.Link(ctx, p, student.ID)
	if err != nil {
		t.Fatal(err)
	}
	seen, err := picture.Decode(h.sample.Picture)
	if err != nil {
		t.Fatal(err)
	}
	const w, hi = 1400, 1800
	s := h.open(390, 844)
	corners := plane.Quad{plane.Pt(210, 250), plane.Pt(1180, 180), plane.Pt(1230, 1650), plane.Pt(160, 1500)}
	s.visit("/s/" + link)
	s.press("a", "Photograph my view")
	s.page.MustElement("#view-page[data-ready]")
	s.page.MustElement("#view").MustSetFiles(s.save("seen.jpg", through(t, seen, corners, w, hi)))
	s.page.MustElement("#view-page[data-framing]")
	for i, q := range corners {
		s.drag(fmt.Sprintf("#view-photo .handle:nth-of-type(%d)", i+1), q.X, q.Y)
	}
	s.press("button", "This is my view")
	s.see("figcaption", "This is what you draw")

	of := func() *store.Picture {
		t.Helper()
		given, err := h.db.Assignments(ctx, id)
		if err != nil {
			t.Fatal(err)
		}
		if len(given) > 1 {
			t.Errorf("%d students have a picture of their own; want one at most", len(given))
		}
		return given[student.ID].Picture
	}
	pic := of()
	if pic == nil || pic.Purpose != store.ForView || pic.TakenBy == nil || *pic.TakenBy != student.ID {
		t.Fatalf("the student's picture is %+v", pic)
	}
	kept, err := h.db.PictureFile(ctx, p.TeacherID, pic.ID, store.Full)
	if err != nil {
		t.Fatal(err)
	}
	view, err := picture.Decode(kept.Bytes)
	if err != nil {
		t.Fatal(err)
	}
	// What is kept is what was seen, straight on: lightness differs where edges lie a pixel off.
	want, err := picture.Rectify(seen, plane.Box(float64(seen.Rect.Dx()), float64(seen.Rect.Dy())), 60, 78)
	if err != nil {
		t.Fatal(err)
	}
	got, err := picture.Rectify(view, plane.Box(float64(view.Rect.Dx()), float64(view.Rect.Dy())), 60, 78)
	if err != nil {
		t.Fatal(err)
	}
	off := 0.0
	for i := range want.Pix {
		off += math.Abs(float64(want.Pix[i])-float64(got.Pix[i])) / float64(len(want.Pix))
	}
	if off > 5 {
		t.Errorf("the view differs from what was seen by %.1f of 255 in the mean", off)
	}
	if list, err := h.db.Library(ctx, p.TeacherID, ""); err != nil || len(list) != 2 {
		t.Errorf("%d pictures in the library, %v; a student's view is none of them", len(list), err)
	}
	c.get(fmt.Sprintf("/pictures/%d/view", pic.ID)).want(http.StatusOK, "")
	h.signIn("other@quay.example").get(fmt.Sprintf("/pictures/%d/view", pic.ID)).want(http.StatusNotFound, "")
	h.nobody().get(at+"/print/page.png?kind=reference&paper=A4&chosen=1&page=1").want(http.StatusSeeOther, "")

	n, path := h.nobody(), "/s/"+link+"/view"
	n.post(path, form{}, file{"view", "v.txt", []byte("no picture")}).want(http.StatusUnprocessableEntity, "JPEG")
	n.post(path, form{"corners": "0,0 1,1 1,0 0,1"}, file{"view", "v.png", h.sample.Picture}).want(http.StatusUnprocessableEntity, "corners")
	n.post(path, form{"corners": "0,0 .05,0 .05,.05 0,.05"}, file{"view", "v.png", h.sample.Picture}).want(http.StatusUnprocessableEntity, "Go nearer")
	n.post(path, nil).want(http.StatusUnprocessableEntity, "")
	h.nobody().post("/s/"+h.link+"/view", form{}, file{"view", "v.png", h.sample.Picture}).want(http.StatusUnprocessableEntity, "no view to photograph")
	n.post(path, form{}, file{"view", "v.png", h.sample.Picture}).location() // all of the photo, again
	again := of()
	if again == nil || again.ID == pic.ID {
		t.Fatalf("taken again: %+v", again)
	}
	if _, err := h.db.Picture(ctx, p.TeacherID, pic.ID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("the first view is still there: %v", err)
	}
	if err := h.db.TickBoxes(ctx, p.TeacherID, id, student.ID, []string{"A1"}, true, time.Now()); err != nil {
		t.Fatal(err)
	}
	n.post(path, form{}, file{"view", "v.png", h.sample.Picture}).want(http.StatusUnprocessableEntity, "another drawing")
	if err := h.db.ForgetStudent(ctx, p.TeacherID, student.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := h.db.Picture(ctx, p.TeacherID, again.ID); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("the view outlives the student: %v", err)
	}
}

// Points are pressed on a picture before there is a plan or a photo: by touch, moved by keys, named, weighed, and away
// again; what lies beside the picture is refused, and another's are not there.
func TestPointsBeforePlanAndPhoto(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	ctx := context.Background()
	p := store.Project{TeacherID: h.project.TeacherID, Name: "Fresh", PictureID: h.project.PictureID, Looseness: accuracy.Normal}
	if err := h.db.AddProject(ctx, &p); err != nil {
		t.Fatal(err)
	}
	at := fmt.Sprintf("/projects/%d/points", p.ID)
	marks := func() []store.Landmark {
		all, err := h.db.Landmarks(ctx, p.ID, p.PictureID)
		if err != nil {
			t.Fatal(err)
		}
		return all
	}
	s := h.open(1280, 800)
	s.signIn()
	s.visit(at)
	s.page.MustElement("#points[data-ready]").MustClick() // its middle
	s.page.MustElement("#points .handle")
	s.page.MustElement(`.landmark input[name="name"]`).MustSelectAllText().MustInput("left eye")
	s.page.MustElement(`.landmark input[value="left eye"]`)
	first := marks()[0]
	s.page.MustElement("#points[data-ready] .handle").MustFocus()
	s.page.Keyboard.MustType(input.ArrowRight)
	for try := 0; marks()[0].X == first.X && try < 200; try++ { // until it is kept
		time.Sleep(50 * time.Millisecond)
	}
	if got := marks(); len(got) != 1 || got[0].Name != "left eye" || got[0].X <= first.X {
		t.Errorf("after a press, a name and an arrow: %+v, before %+v", got, first)
	}
	c := h.signIn("owner@quay.example")
	id := fmt.Sprint(first.ID)
	c.post(at, form{"place": "-4,10"}).want(http.StatusUnprocessableEntity, "must lie on the picture")
	c.post(at, form{"place": "here"}).want(http.StatusUnprocessableEntity, "must lie on the picture")
	c.post(at, form{"point": id, "weight": "7"}).want(http.StatusUnprocessableEntity, "1, 2 or 3")
	c.post(at, form{"point": "999999"}).want(http.StatusNotFound, "")
	c.post(at, form{"point": id, "do": "remove"}).location()
	if got := marks(); len(got) != 0 {
		t.Errorf("a point that was removed is there: %+v", got)
	}
	bare := store.Project{TeacherID: h.project.TeacherID, Name: "Bare", Looseness: accuracy.Normal}
	if err := h.db.AddProject(ctx, &bare); err != nil {
		t.Fatal(err)
	}
	c.get(fmt.Sprintf("/projects/%d/points", bare.ID)).want(http.StatusUnprocessableEntity, "Choose the picture first")
}

// One slide with three views is a project's picture: cut apart, the views have their tops and bottoms, stand at one
// height on all of the paper, and print without a plan of boxes; the project card counts views.
func TestASlideIsCutIntoViews(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	slide := image.NewRGBA(image.Rect(0, 0, 1500, 800))
	draw.Draw(slide, slide.Rect, image.NewUniform(color.RGBA{235, 238, 242, 255}), image.Point{}, draw.Src)
	for _, b := range []image.Rectangle{image.Rect(60, 120, 460, 720), image.Rect(560, 100, 760, 700), image.Rect(900, 140, 1400, 740)} {
		draw.Draw(slide, b, image.NewUniform(color.RGBA{70, 60, 90, 255}), image.Point{}, draw.Src)
	}
	var b bytes.Buffer
	if err := png.Encode(&b, slide); err != nil {
		t.Fatal(err)
	}
	at, _, _ := strings.Cut(c.post("/projects", form{"name": "Jug from all sides", "class": fmt.Sprint(h.class.ID), "road": "way-views"}, file{"picture", "slide.png", b.Bytes()}).location(), "/views")
	var id uint64
	if _, err := fmt.Sscanf(at, "/projects/%d", &id); err != nil {
		t.Fatal(err)
	}
	p, err := h.db.Project(t.Context(), h.project.TeacherID, id)
	if err != nil {
		t.Fatal(err)
	}
	c.post(at+"/views", form{"from": fmt.Sprint(*p.PictureID), "cut": "1"}).location()
	page := c.get(at+"/views").want(http.StatusOK, "At one height")
	views, err := h.db.Views(t.Context(), id)
	if err != nil || len(views) != 3 {
		t.Fatalf("%d views, %v", len(views), err)
	}
	for i, v := range views {
		if high := v.BottomY - v.TopY; !v.Pressed || math.Abs(high-600) > 3 {
			t.Errorf("view %d is %.0f high, pressed %v; want 600", i+1, high, v.Pressed)
		}
	}
	plan, err := plans.Needed(t.Context(), h.db, p)
	if err != nil {
		t.Fatal(err)
	}
	stock := plan.StockSize()
	if stock.W < stock.H {
		stock = stock.Turned()
	}
	if !page.says("On " + stock.Text(plan.Units) + " each is") {
		t.Error("the views do not stand on all of the paper")
	}
	words := c.get(at + "/print/set.pdf?kind=project&kind=views&paper=A4&who=everyone&chosen=1").text()
	if strings.Contains(words, "boxes") || !strings.Contains(words, "from view") {
		t.Errorf("the project card speaks of boxes: %s", words)
	}
	// A picture of one thing is not cut; another picture is added beside the project's own.
	c.post(at+"/views", form{"from": fmt.Sprint(*h.project.PictureID), "cut": "1"}).want(http.StatusUnprocessableEntity, "side by side on a plain ground")
	other, _, _ := strings.Cut(c.post("/projects", form{"name": "Two", "road": "way-views"}, file{"picture", "slide.png", b.Bytes()}).location(), "/views")
	c.post(other+"/views", form{"from": fmt.Sprint(*h.project.PictureID)}).location()
	if n := strings.Count(c.get(other+"/views").body, `class="pressing"`); n != 2 {
		t.Errorf("%d views; want the project's own and the one that was added", n)
	}
}
