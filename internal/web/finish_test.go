package web

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"html"
	"image"
	"image/draw"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"net/http"
	"net/url"
	"os/exec"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/go-rod/rod/lib/input"

	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/core/tiles"
	"zestysketch/internal/demo"
	"zestysketch/internal/render"
)

// text returns the words of a PDF, by poppler.
func (a answer) text() string {
	a.t.Helper()
	a.want(http.StatusOK, "%PDF-")
	read := exec.Command("pdftotext", "-layout", "-", "-")
	read.Stdin = strings.NewReader(a.body)
	words, err := read.Output()
	if err != nil {
		a.t.Fatalf("%s: pdftotext: %v", a.what, err)
	}
	return string(words)
}

// The finish of a project: every page and every file says what it is for.
func TestFinish(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	c.post(h.address("/checkins/{checkin}/places"), form{"corners": "181,190 1040,172 1082,1311 128,1290", "version": "0"}).want(http.StatusOK, "")
	at := h.address("/projects/{project}/finish")
	for path, say := range map[string]string{
		"":                 "What will not work here",
		"/ink":             "Inked solid: what is darker",
		"/ink?hand=left":   "begin top right",
		"/tone?order=last": "This is a line drawing",
		"/colour":          "Leave the paper white",
		"/colour?drawing=" + fmt.Sprint(h.checkIn.ID): "Ada’s drawing",
		"/tiles": "line ends meet",
		"/tiles?sent=1&student=" + fmt.Sprint(h.class.Students[1].ID): "Bryn",
		"/show": "1 of 2 drawings have a photo",
	} {
		c.get(at+path).want(http.StatusOK, say)
	}
	student := h.address("/students/{student}")
	for path, say := range map[string]string{
		"/transfer.pdf?final=200&tint=black&medium=pastel+or+chalk&have=tape": "pastel and chalk come off at a touch",
		"/ink.pdf": "these notes do not replace them", "/patterns.pdf": "Area by area", "/tone.pdf": "no tones to copy", "/colour.pdf": "Leave the paper white",
		"/tiles.pdf": "goes to", "/tiles/key.pdf": "Bryn ·", "/labels.pdf?title=Evening+light": "Evening light", "/exhibition.pdf": "No photo yet: Bryn",
		"/portfolios.pdf": "In my own words", "/home.pdf": "From the teacher",
		student + "/home.pdf?words=Petra+looks+twice": "Petra looks twice",
		"/poster.pdf?paper=A3":                        "one picture,", student + "/portfolio.pdf": "The drawing",
		student + "/side.pdf": "Both mirrored", "/ink.pdf?paper=A3": "Ink plan",
	} {
		if words := c.get(at + path).text(); !strings.Contains(strings.Join(strings.Fields(words), " "), say) {
			t.Errorf("%s does not say %q: %.600s", path, say, words)
		}
	}
}

// What cannot be met is told with how to mend it, and what was typed beside it stays.
func TestFinishMendsMistakes(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	at := h.address("/projects/{project}/finish")
	for path, say := range map[string]string{
		"?final=heavy": "weight of the final paper", "?final=0": "10 to 1000 g/m²",
		"?final=NaN": "weight of the final paper", "?drawing=-3": "10 to 1000 g/m²",
		"?tint=moon": "colour of the final paper", "?medium=mud": "no medium",
		"?hour=27": "0 to 24", "?times=0": "times as large", "?hands=robot": "Young, class or adult",
		"/ink?dark=x": "solid dark begins", "/ink?dark=0": "between 0 and 100",
		"/ink?hand=third": "right hand or the left",
		"/tone?steps=9":   "Wanted 2 to 7 steps", "/tone?steps=many": "Choose 2 to 7",
		"/tone?order=sideways": "first or last", "/tiles?seed=one": "number, such as 1",
		"/transfer.pdf?way=99": "Choose a way", "/ink.pdf?paper=2x2mm": "printer&#39;s paper",
	} {
		c.get(at+path).want(http.StatusUnprocessableEntity, say)
	}
	c.get(at+"?final=heavy&drawing=123").want(http.StatusUnprocessableEntity, `value="123"`)
	c.get(at+"/tiles?student=999999").want(http.StatusNotFound, "")
	c.get(at+"/students/999999/portfolio.pdf").want(http.StatusNotFound, "")
	c.get(at+h.address("/students/{student}/side.pdf")).want(http.StatusUnprocessableEntity, "no photo of this drawing yet")
	c.get(at+"/exhibition.pdf").want(http.StatusUnprocessableEntity, "take photos in")
	c.get(at+"/poster.pdf").want(http.StatusUnprocessableEntity, "take photos in")
	c.get(at+"/certificates.pdf").want(http.StatusUnprocessableEntity, "Nobody has finished yet")
	c.get(at+h.address("/students/{student}/home.pdf?words=")+strings.Repeat("x", 501)).want(http.StatusUnprocessableEntity, "Write it shorter")
	// Nothing at hand at all, at night, is still answered.
	c.get(at+"?final=160&hour=23&hands=young").want(http.StatusOK, "folded in halves")

	// A project without a class, then without a picture, then without a plan.
	alone := c.post("/projects", form{"name": "Alone"}, file{"picture", "light.png", h.sample.Picture}).location()
	alone, _, _ = strings.Cut(alone, "?")
	c.get(alone+"/finish").want(http.StatusUnprocessableEntity, "Keep the plan first")
	c.post(alone+"/plan", planForm(h.sample.Plan.Typed, 0)).want(http.StatusOK, "")
	c.get(alone+"/finish/show").want(http.StatusOK, "nobody to show yet")
	c.get(alone+"/finish/labels.pdf").want(http.StatusUnprocessableEntity, "choose a class")
	c.get(alone+"/finish/tiles/key.pdf").want(http.StatusOK, "%PDF-")
	one := planForm(h.sample.Plan.Typed, 1)
	one["method"], one["parts"] = "parts", "1x1"
	c.post(alone+"/plan", one).want(http.StatusOK, "")
	c.get(alone+"/finish/tiles").want(http.StatusUnprocessableEntity, "one box")
}

// Ink stays closed until the outline is approved, and the page says who waits.
func TestInkIsClosedUntilApproved(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	road := form{"outline": "first", "darks": "first", "on_draw": "1", "minutes_draw": "60", "on_check": "1",
		"minutes_check": "10", "check_check": "The outline is approved.", "on_ink": "1", "minutes_ink": "30"}
	c.post(h.address("/projects/{project}/road"), road).location()
	at := h.address("/projects/{project}/finish/ink")
	c.get(at).want(http.StatusOK, "0 of 2 drawings may be inked")
	for _, stage := range []string{"draw", "check"} {
		c.post(h.address("/projects/{project}/students/{student}/stage"), form{"stage": stage, "on": "1"}).location()
	}
	c.post(h.address("/projects/{project}/students/{student}/verdict"), form{"stage": "check", "verdict": "passed", "seen": "0"}).location()
	if a := c.get(at).want(http.StatusOK, "1 of 2 drawings may be inked"); !a.says("Not yet: Bryn") {
		t.Error("who waits is not named")
	}
}

// A scan of the finished rearrangement is put back together: it is the picture
// again. A file that is no picture is told by name.
func TestTilesPutBackTogether(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	at := h.address("/projects/{project}/finish/tiles")
	student := h.class.Students[0]
	m, err := tiles.Shuffle(h.sample.Plan, tiles.SeedFor(h.project.ID, student.ID), true)
	if err != nil {
		t.Fatal(err)
	}
	img, err := picture.Decode(h.sample.Picture)
	if err != nil {
		t.Fatal(err)
	}
	var scan bytes.Buffer
	if err := png.Encode(&scan, render.Pixels(sheet.TilePreview(h.sample.Plan, m), 6, map[string]image.Image{sheet.FramePicture: img})); err != nil {
		t.Fatal(err)
	}
	values := form{"student": fmt.Sprint(student.ID), "seed": "1", "flips": "on", "sent": "1"}
	back := h.restored(c.post(at, values, file{"photo", "scan.png", scan.Bytes()}))
	want := photo.Wanted(h.sample.Plan, photo.NewShot(img), photo.SheetFrame(h.sample.Plan, 1000))
	if back.Bounds() != want.Rect {
		t.Fatalf("%v; want %v", back.Bounds(), want.Rect)
	}
	sum, n := 0.0, 0.0
	for y := 0; y < want.Rect.Dy(); y += 3 {
		for x := 0; x < want.Rect.Dx(); x += 3 {
			r, _, _, _ := back.At(x, y).RGBA()
			d := float64(r>>8) - float64(want.RGBAAt(x, y).R)
			sum, n = sum+max(d, -d), n+1
		}
	}
	if sum/n > 6 { // of 255; the shuffled picture is about 30 away
		t.Errorf("put back together it is %.1f of 255 away from the picture", sum/n)
	}
	c.post(at, values, file{"photo", "notes.txt", []byte("no picture")}).want(http.StatusUnprocessableEntity, "“notes”: this is not a picture")
	c.post(at, values).want(http.StatusUnprocessableEntity, "Choose a photo")
}

// A photo from an angle, with corner tags, of lines that a hand has drawn in
// their new places, is put back together too: where the picture has a line,
// there is one.
func TestPhotographedTilesPutBackTogether(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	student := h.class.Students[1]
	scene, plan, err := demo.HarbourLight()
	if err != nil {
		t.Fatal(err)
	}
	m, err := tiles.Shuffle(plan, tiles.SeedFor(h.project.ID, student.ID), true)
	if err != nil {
		t.Fatal(err)
	}
	rearranged := demo.Scene{Page: page.Page{Title: "Rearranged", Size: scene.Page.Size}}
	for _, item := range scene.Page.Items {
		path, ok := item.(page.Path)
		if !ok {
			continue
		}
		if path.Closed {
			path.Points = append(path.Points[:len(path.Points):len(path.Points)], path.Points[0])
		}
		var run []plane.Point
		for _, q := range path.Points { // the scene's own millimetres to those of the print
			run = append(run, plane.Pt(q.X*plan.Reference.Width/float64(scene.Page.Size.W), q.Y*plan.Reference.Height/float64(scene.Page.Size.H)))
		}
		for _, piece := range m.Lines(plan, [][]plane.Point{run}) {
			for i := range piece {
				piece[i].X, piece[i].Y = piece[i].X*float64(scene.Page.Size.W)/plan.Reference.Width, piece[i].Y*float64(scene.Page.Size.H)/plan.Reference.Height
			}
			rearranged.Page.Items = append(rearranged.Page.Items, page.Path{Points: piece, Width: 0.9, Stroke: page.Ink})
		}
	}
	shot, err := demo.Photograph(plan, rearranged, demo.Hand{Size: 1, PencilWeight: 1.2, Unsteady: 0.2},
		demo.Camera{Width: 1500, Height: 2000, Dim: 0.2, Noise: 2}, h.project.ID, student.ID, 0.03,
		rand.New(rand.NewPCG(9, 9)))
	if err != nil {
		t.Fatal(err)
	}
	back := h.restored(c.post(h.address("/projects/{project}/finish/tiles"), form{"student": fmt.Sprint(student.ID), "seed": "1", "flips": "on", "sent": "1"}, file{"photo", "p.jpg", shot.Photo}))
	drawn := image.NewRGBA(back.Bounds())
	draw.Draw(drawn, drawn.Rect, back, image.Point{}, draw.Src)
	img, err := picture.Decode(h.sample.Picture)
	if err != nil {
		t.Fatal(err)
	}
	want := photo.Wanted(plan, photo.NewShot(img), photo.SheetFrame(plan, 1000))
	met, all := 0, 0
	for y := 10; y < want.Rect.Dy()-10; y += 3 {
		for x := 10; x < want.Rect.Dx()-10; x += 3 {
			if want.RGBAAt(x, y).R > 90 {
				continue
			}
			all++
			dark, light := 255, 0
			for j := y - 5; j <= y+5; j++ {
				for i := x - 5; i <= x+5; i++ {
					v := int(drawn.RGBAAt(i, j).R)
					dark, light = min(dark, v), max(light, v)
				}
			}
			if light-dark > 60 {
				met++
			}
		}
	}
	if float64(met) < 0.85*float64(all) {
		t.Errorf("%d of %d places on the picture's lines have one", met, all)
	}
}

// restored returns the picture that a page shows as put back together.
func (h *house) restored(a answer) image.Image {
	h.t.Helper()
	a.want(http.StatusOK, "Put back together from the photo")
	found := regexp.MustCompile(`src="data:image/jpeg;base64,([^"]+)"`).FindStringSubmatch(a.body)
	if found == nil {
		h.t.Fatal("there is no picture")
	}
	raw, err := base64.StdEncoding.DecodeString(html.UnescapeString(found[1]))
	if err != nil {
		h.t.Fatal(err)
	}
	img, err := jpeg.Decode(bytes.NewReader(raw))
	if err != nil {
		h.t.Fatal(err)
	}
	return img
}

// In the browser: another paper asks for another way, and the page follows
// without being sent.
func TestTransferFollowsThePaper(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	s.visit(h.address("/projects/{project}/finish"))
	s.see("h2", "soft pencil")
	s.page.MustElement("#tint").MustSelect("black")
	s.see("h2", "Shade with white chalk")
	s.see("dd", "light does not come through dark paper")
	s.page.MustElement("#times").MustSelectAllText().MustInput("1.5")
	s.page.MustElement("#hour").MustFocus()
	s.see("summary", "1 Measured again with a grid")
	if open := s.page.MustElements("details.way[open] .stack-steps svg"); len(open) < 3 {
		t.Errorf("%d drawings of papers; want one a step", len(open))
	}
}

// A good arrangement is found among thousands, and its number prints what the page shows: maps on
// the printer's paper, cards that say how each tile is pressed.
func TestAGoodArrangement(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	at := h.address("/projects/{project}/finish/tiles")
	to := c.get(at + "?sent=1&flips=on&seed=1&choose=1").location()
	found, err := url.Parse(to)
	if err != nil {
		t.Fatal(err)
	}
	seed, err := strconv.Atoi(found.Query().Get("seed"))
	if err != nil || seed < 2 || seed > 5001 {
		t.Fatalf("%s; want one of 5,000", to)
	}
	count := func(at string) (meet int) {
		for _, word := range regexp.MustCompile(`(\d+) line ends meet`).FindStringSubmatch(c.get(at).want(http.StatusOK, "").body)[1:] {
			meet, _ = strconv.Atoi(word)
		}
		return meet
	}
	if first, good := count(at+"?sent=1&flips=on&seed=1"), count(to); good <= first {
		t.Errorf("%d ends meet in the chosen one, %d in the first", good, first)
	}
	words := c.get(strings.Replace(to, "/tiles?", "/tiles.pdf?", 1)).text()
	for _, say := range []string{"Where each tile comes from", "Where each tile goes", "Trace on both sides.", "it comes out mirrored", "arrangement " + strconv.Itoa(seed)} {
		if !strings.Contains(strings.Join(strings.Fields(words), " "), say) {
			t.Errorf("the pages do not say %q", say)
		}
	}
	if n := strings.Count(words, "Print at actual size") + strings.Count(words, "Actual size, 100 %"); n < 5 {
		t.Errorf("%d pages have a check bar", n)
	}
}

// The final sheet has its own size: typed, dragged by the arrow keys, with a strip, it is what the card says; what
// does not fit is told.
func TestFinalSheetOfItsOwn(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	at := h.address("/projects/{project}/finish")
	c := h.signIn("owner@quay.example")
	plan := h.sample.Plan
	wide, high := plan.SheetSize().W+4*measure.MillimetresPerInch, plan.SheetSize().H+6*measure.MillimetresPerInch
	paper := url.QueryEscape(measure.Size{W: wide, H: high}.Text(measure.Inch))
	c.get(at+"?sheet="+paper+"&strip=2+in").want(http.StatusOK, "2 in from the left edge and 2 in from the top", "The lowest 2 in are for trying")
	c.get(at+"?sheet="+paper+"&left=3+in&top=1+in").want(http.StatusOK, "1 in on the right and 5 in below")
	c.get(at+"?sheet=4+x+4+in").want(http.StatusUnprocessableEntity, "take larger paper")
	c.get(at+"?sheet="+paper+"&left=9+in").want(http.StatusUnprocessableEntity, "move it in")
	c.get(at+"?sheet=wide").want(http.StatusUnprocessableEntity, "")
	if words := c.get(at + "/transfer.pdf?sheet=" + paper + "&left=3+in&top=1+in").text(); !strings.Contains(strings.Join(strings.Fields(words), " "), "3 in from the left edge and 1 in from the top") {
		t.Errorf("the card says %s", words)
	}
	s.visit(at + "?sheet=" + paper)
	s.page.MustElement("svg.placing[data-ready] .handle").MustFocus()
	s.page.Keyboard.Press(input.ShiftLeft)
	for range 5 {
		s.page.Keyboard.MustType(input.ArrowRight)
	}
	s.page.Keyboard.Release(input.ShiftLeft)
	s.see("#finish", `top left corner: (2 [0-9]+/[0-9]+|[34][0-9 /]*) in from the left edge`)
}
