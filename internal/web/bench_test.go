package web

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/png"
	"math"
	"net/http"
	"os/exec"
	"regexp"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/measure"
	"zestysketch/internal/core/page"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/sheet"
	"zestysketch/internal/plans"
	"zestysketch/internal/render"
	"zestysketch/internal/store"
)

// Each step of the bench says what it is for.
func TestBenchSteps(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	for step, says := range map[string][]string{
		"picture": {"Line drawing:", "pixels an inch", "On offer here", "Who draws what"},
		"compose": {"What the frame shows", "Kept aside", "The lamp", "Gesture timer"},
		"size":    {"On the board", "Plan as a file", "Paper for 2", "A sheet gives", "blade left down and latched", "the product's label"},
		"grid":    {"Grids for this picture", "boxes suit this class", "Lines that stand out", "Drawing order: A1, B1, C1"},
		"marks":   {"Mark up the drawing sheet", "not the end of the wood", "7 boxes across, 9 down, 63 in all", "both diagonals"},
		"unknown": {"Grids for this picture"},
	} {
		page := c.get(h.address("/projects/{project}?step=")+step).want(http.StatusOK, "")
		for _, say := range says {
			if !page.says(say) {
				t.Errorf("step %s does not say %q", step, say)
			}
		}
	}
}

// A plan goes out as a file and comes back unchanged, and one made for another
// picture brings its wishes but not its frame.
func TestPlanFileComesBack(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	path := h.address("/projects/{project}/plan.json")
	ask := planForm(h.sample.Plan.Typed, 1)
	for name, value := range map[string]string{"frame": "700,900 900x1100 12 mirror", "split": "B2 4", "remainder": "shared", "start": "bottom right", "hand": "left",
		"mark_by": "strip", "ruler_zero": "1/4 in", "line": "white", "units": "cm", "margin": "1", "skill": "detailed", "minutes": "90", "sheet_square": "", "reference_square": "3"} {
		ask[name] = value
	}
	c.post(h.address("/projects/{project}/plan"), ask).want(http.StatusOK, "Kept")
	saved := c.get(path).want(http.StatusOK, `"angle_deg": 12`).body
	if at := c.post(path, nil, file{"plan", "p.json", []byte(saved)}).location(); !strings.Contains(at, "step=size") {
		t.Errorf("taking the plan back leads to %q", at)
	}
	if again := c.get(path).body; again != saved {
		t.Errorf("the plan came back changed:\n%s\nwas\n%s", again, saved)
	}
	small := image.NewGray(image.Rect(0, 0, 300, 400))
	var b bytes.Buffer
	if err := png.Encode(&b, small); err != nil {
		t.Fatal(err)
	}
	c.post("/projects", form{"name": "Other"}, file{"picture", "p.png", b.Bytes()}).location()
	other := fmt.Sprintf("/projects/%d", h.project.ID+1)
	c.post(other+"/plan.json", nil, file{"plan", "p.json", []byte(saved)}).location()
	plan, err := grid.Decode([]byte(c.get(other + "/plan.json").body))
	if err != nil || plan.Frame.Angle != 0 || plan.Frame.Picture != [2]int{300, 400} || plan.Line.Color != "white" {
		t.Errorf("for another picture: %+v, %v", plan.Frame, err)
	}
	for name, bad := range map[string]struct{ b, say string }{
		"cut off":      {saved[:len(saved)/2], "damaged or cut off"},
		"later":        {strings.Replace(saved, "zesty-plan/1", "zesty-plan/7", 1), "use a newer program"},
		"something":    {`{"a": 1}`, "wanted a file whose format is"},
		"out of frame": {strings.Replace(saved, `"angle_deg": 12`, `"angle_deg": 12, "centre_px": [10, 10]`, 1), "outside its picture"},
	} {
		t.Run(name, func(t *testing.T) {
			c.post(path, nil, file{"plan", "p.json", []byte(bad.b)}).want(http.StatusUnprocessableEntity, bad.say)
		})
	}
	c.post(path, nil).want(http.StatusUnprocessableEntity, "Choose a plan file")
}

func TestOwnPicturesAndFrames(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	ada := h.class.Students[0].ID
	own := h.address("/projects/{project}/students/{student}/picture")
	c.post(own, form{"own": fmt.Sprintf("f%d", h.frame.ID)}).location()
	c.get(h.address("/projects/{project}?step=picture")).want(http.StatusOK, fmt.Sprintf(`value="f%d" selected`, h.frame.ID))
	given, err := h.db.Assignments(context.Background(), h.project.ID)
	if err != nil || given[ada].Frame == nil || given[ada].Frame.Name != "The lamp" {
		t.Fatalf("given %+v, %v", given, err)
	}
	// Ada's frame is 7 × 9 too, but Bryn's picture lies, so his grid is another.
	lying := image.NewGray(image.Rect(0, 0, 800, 400))
	var b bytes.Buffer
	if err := png.Encode(&b, lying); err != nil {
		t.Fatal(err)
	}
	c.post(h.address("/projects/{project}/picture"), form{}, file{"picture", "lying.png", b.Bytes()}).location()
	offered, err := h.db.ProjectPictures(context.Background(), h.project.ID)
	if err != nil || len(offered) != 2 {
		t.Fatalf("on offer %d, %v; want 2", len(offered), err)
	}
	bryn := h.class.Students[1].ID
	c.post(fmt.Sprintf("/projects/%d/students/%d/picture", h.project.ID, bryn), form{"own": fmt.Sprintf("p%d", offered[1].ID)}).location()
	ticks := fmt.Sprintf("/projects/%d/students/%d/ticks", h.project.ID, bryn)
	c.post(ticks, form{"label": "A9", "on": "1"}).want(http.StatusUnprocessableEntity, "not in the present plan")
	c.post(ticks, form{"label": "G4", "on": "1"}).location()
	c.get(h.address("/projects/{project}/wall")).want(http.StatusOK, `<b class="n">1</b>/28`)
	for _, bad := range []string{"p999999", "f999999"} {
		c.post(own, form{"own": bad}).want(http.StatusNotFound, "")
	}
	for _, bad := range []string{"x1", "p", "fx"} {
		c.post(own, form{"own": bad}).want(http.StatusUnprocessableEntity, "Choose one of")
	}
	withdraw := fmt.Sprintf("/projects/%d/pictures/%d/withdraw", h.project.ID, offered[1].ID)
	c.post(withdraw, nil).location()
	c.post(h.address("/projects/{project}/pictures/{picture}/withdraw"), nil).want(http.StatusUnprocessableEntity, "The plan is made for")
	if given, err = h.db.Assignments(context.Background(), h.project.ID); err != nil || len(given) != 1 {
		t.Errorf("after the picture went, given %+v, %v", given, err)
	}
}

func TestBadFrames(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	frames := h.address("/projects/{project}/frames")
	for frame, say := range map[string]string{
		"10,10 900x900 0": "outside the picture", "500,500 0x10 0": "at least 16 pixels", "the middle": "wanted the frame as", "NaN,1 2x2": "wanted the frame as",
	} {
		c.post(frames, form{"frame": frame}).want(http.StatusUnprocessableEntity, say)
	}
	c.post(frames, form{"frame": "500,500 200x200", "frame_name": strings.Repeat("x", 41)}).want(http.StatusUnprocessableEntity, "shorter name")
	for range 11 {
		c.post(frames, form{"frame": "500,500 200x200 45"}).location()
	}
	c.post(frames, form{"frame": "500,500 200x200"}).want(http.StatusUnprocessableEntity, "Remove one first")
	c.post(h.address("/projects/{project}/frames/{frame}/remove"), nil).location()
}

func TestThumbnailsPage(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	for query, say := range map[string]string{"upright=3&lying=3&paper=A4": "%PDF", "upright=2&lying=0&paper=Letter&picture=1": "%PDF"} {
		pdf := c.get(h.address("/projects/{project}/thumbnails.pdf?")+query).want(http.StatusOK, say)
		info := exec.Command("pdfinfo", "-")
		info.Stdin = strings.NewReader(pdf.body)
		if out, err := info.CombinedOutput(); err != nil || !bytes.Contains(out, []byte("Pages:           1")) {
			t.Errorf("%s: %v\n%s", query, err, out)
		}
	}
	for query, say := range map[string]string{"upright=0&lying=0&paper=A4": "wanted 1 to 12",
		"upright=99&lying=1&paper=A4": "wanted 1 to 12", "upright=a&lying=1&paper=A4": "wanted 1 to 12",
		"upright=1&lying=1&paper=A6": "fit the paper", "upright=1": "Choose the printer"} {
		c.get(h.address("/projects/{project}/thumbnails.pdf?")+query).want(http.StatusUnprocessableEntity, say)
	}
}

func TestLibrary(t *testing.T) {
	h := newHouse(t)
	h.work()
	c := h.signIn("owner@quay.example")
	one := h.address("/library/{picture}")
	c.post(one, form{"name": "The lamp", "tags": "harbour, 100%", "difficulty": "2"}).location()
	for words, found := range map[string]bool{"lamp": true, "harbour lamp": true, "100%": true, "1_0": false, "boat": false, "": true} {
		page := c.get("/library?words="+strings.NewReplacer("%", "%25", " ", "+").Replace(words)).want(http.StatusOK, "")
		if got := page.says("middling"); got != found {
			t.Errorf("looking for %q finds it: %v; want %v", words, got, found)
		}
	}
	c.post(one, form{"name": "", "difficulty": "1"}).want(http.StatusUnprocessableEntity, "Write a name")
	c.post(one, form{"name": "x", "difficulty": "9"}).want(http.StatusUnprocessableEntity, "easy, middling or hard")
	c.post(one, form{"name": "x", "tags": strings.Repeat("y ", 150), "difficulty": "1"}).want(http.StatusUnprocessableEntity, "fewer tags")
	c.post(one+"/remove", nil).want(http.StatusUnprocessableEntity, "draws from this picture. Take it off the offer there")
	c.post("/library", nil, file{"picture", "p.png", h.sample.Picture}).location()
	all, err := h.db.Library(context.Background(), h.project.TeacherID, "")
	if err != nil || len(all) != 2 {
		t.Fatalf("%d pictures, %v; want 2", len(all), err)
	}
	c.post(fmt.Sprintf("/library/%d/remove", all[0].ID), nil).location()
	c.get(fmt.Sprintf("/pictures/%d/view", all[0].ID)).want(http.StatusNotFound, "")
	// Photos of drawings are nobody's reference.
	c.post(h.address("/projects/{project}/check"), form{"student": fmt.Sprint(h.class.Students[0].ID)}, file{"photo", "p.jpg", h.sample.Photo}).location()
	if all, err = h.db.Library(context.Background(), h.project.TeacherID, ""); err != nil || len(all) != 1 || all[0].Purpose != store.ForReference {
		t.Errorf("the library has %d, %v; want the reference alone", len(all), err)
	}
}

// Every sum works as it stands, and answers the handbook's worked examples
// (common practice) through its address, signed in or not.
func TestReckoner(t *testing.T) {
	h := newHouse(t)
	c := h.nobody()
	for address, says := range map[string][]string{
		"/reckoner": {"114 ÷ 8 = 14 1/4", "12 × 14 in", "-1.8 %"},
		"/reckoner/scale?units=cm&reference=1&sheet=1.5&size=10+x+12":                   {"× 1.5", "15 × 18 cm"},
		"/reckoner/marks?reference=12+x+14&paper=12+x+14&method=parts&parts=4":          {"0, 3, 6, 9, 12", "0, 3 1/2, 7, 10 1/2, 14", "18 7/16 in"},
		"/reckoner/marks?reference=8+x+9.5&paper=12+x+14&fill=all&method=parts&parts=4": {"0, 3, 6, 9, 12", "0, 3 1/2, 7, 10 1/2, 14"}, // the rounded sheet, common practice
		"/reckoner/angle-and-distance?on=solid&scale=100&points=a,120,6,3,2&units=cm":   {"300 cm", "Below", "200 cm", "<title>Angle and distance", "plumb line there"},
		"/reckoner/cut":          {"A sheet gives", "Cut 1:"},
		"/reckoner/string-frame": {"64 × 48 in", "Each square covers"},
		"/reckoner/string-frame?units=cm&opening=500+x+300&spacing=50&eye=500&object=900&room=400+x+950": {"does not stand in it"},
		"/reckoner/angle-and-distance?units=cm&scale=100&points=a,90,6":                                  {"600 cm", "Right", "90°"},
		"/reckoner/guidelines":          {"front", "left side", "neck: a line"},
		"/reckoner/sight-size?fold=yes": {"The other half", "3/4 in"},
		"/reckoner/overlay":             {"8 × 10 in", "12 13/16 in"},
	} {
		page := c.get(address).want(http.StatusOK, "")
		for _, say := range says {
			if !page.says(say) {
				t.Errorf("%s does not say %q", address, say)
			}
		}
	}
	for address, say := range map[string]string{
		"/reckoner/proportion?picture=wide":                      "wanted a size such as",
		"/reckoner/proportion?length=0":                          "must be more than 0",
		"/reckoner/scale?reference=0":                            "must be more than 0",
		"/reckoner/scale?sheet=<b>":                              "“&lt;b&gt;”",
		"/reckoner/marks?method=parts&parts=0":                   "wanted a count across",
		"/reckoner/marks?reference_square=40":                    "larger than the picture",
		"/reckoner/cut?students=-4":                              "wanted a number",
		"/reckoner/cut?piece=30+x+40":                            "not even one drawing fits",
		"/reckoner/string-frame?object=3":                        "behind the threads",
		"/reckoner/angle-and-distance?points=knee":               "with commas on each line",
		"/reckoner/angle-and-distance?points=a,up,2,3":           "wanted a turn in degrees",
		"/reckoner/guidelines?gutter=9":                          "the gutters leave no room",
		"/reckoner/guidelines?heights=hat,99":                    "outside the height",
		"/reckoner/sight-size?points=a,b,c":                      "wanted a length, got “b”",
		"/reckoner/overlay?stock=2+x+2":                          "at least as large as the picture",
		"/reckoner/overlay?picture=" + strings.Repeat("9", 3000): "wanted a size",
	} {
		c.get(address).want(http.StatusOK, say)
	}
	c.get("/reckoner/horoscope").want(http.StatusNotFound, "no such sum")
}

// Small drawings go the whole way on a project without a plan: the page is printed, drawn on, photographed aslant by
// the page's tags, and comes back cut out, each with how it lies and where that is on the large sheet.
func TestSmallDrawingsComeBack(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	at, _, _ := strings.Cut(c.post("/projects", form{"name": "Small first"}, file{"picture", "light.png", h.sample.Picture}).location(), "?")
	ask := "upright=2&lying=2&paper=A4"
	c.get(at+"?step=compose").want(http.StatusOK, "Thumbnails: try it small first")
	c.get(at+"/thumbnails.pdf?"+ask+"&picture=1").want(http.StatusOK, "%PDF")
	var id uint64
	if _, err := fmt.Sscanf(at, "/projects/%d", &id); err != nil {
		t.Fatal(err)
	}
	p, err := h.db.Project(t.Context(), h.project.TeacherID, id)
	if err != nil {
		t.Fatal(err)
	}
	plan, err := grid.Make(plans.First(p.Name, p.Picture.Pixels(), measure.Inch, "", 0))
	if err != nil {
		t.Fatal(err)
	}
	a4, _ := measure.PaperNamed("A4")
	wish := sheet.Wish{Plan: plan, Printer: page.On(a4.Size), Upright: 2, Lying: 2, Who: sheet.Who{Project: id}}
	boxes, err1 := sheet.NewThumbnailBoxes(wish)
	pg, err2 := sheet.Thumbnails(wish)
	if err := errors.Join(err1, err2); err != nil {
		t.Fatal(err)
	}
	b := boxes.Boxes[3] // a bar from a quarter to a half across, from a third to the bottom, in the second lying one
	bar := page.BoxPath(plane.Rect{Min: plane.Pt(b.Min.X+b.Width()/4, b.Min.Y+b.Height()/3), Max: plane.Pt(b.Min.X+b.Width()/2, b.Max.Y)}, 0, page.Ink)
	bar.Fill = &page.Ink
	pg.Add(bar)
	seen := render.Pixels(pg, 6, nil)
	w, high := float64(seen.Rect.Dx()), float64(seen.Rect.Dy())
	photo := through(t, seen, plane.Quad{plane.Pt(60, 40), plane.Pt(w-30, 80), plane.Pt(w-70, high-40), plane.Pt(30, high-90)}, seen.Rect.Dx(), seen.Rect.Dy())
	sent := form{"upright": "2", "lying": "2", "paper": "A4"}
	back := c.post(at+"/thumbnails", sent, file{"photo", "page.jpg", photo}).want(http.StatusOK, "Number 4")
	stock := plan.StockSize()
	if stock.W < stock.H {
		stock = stock.Turned()
	}
	for _, say := range []string{"Nothing is drawn here.", "It touches the bottom edge.", "It is heavier at the bottom and on the left"} {
		if !back.says(say) {
			t.Errorf("it does not say %q: %s", say, regexp.MustCompile(`data:[^"]*`).ReplaceAllString(back.body, ""))
		}
	}
	mark := regexp.MustCompile(`it begins at ([0-9 /]+) in and ends at ([0-9 /]+) in`).FindStringSubmatch(back.body)
	if mark == nil {
		t.Fatal("no marks")
	}
	for i, share := range []float64{0.25, 0.5} {
		if got, err := measure.Parse(mark[i+1], measure.Inch); err != nil || math.Abs(float64(got)-share*float64(stock.W)) > 0.02*float64(stock.W) {
			t.Errorf("%q of %v, %v; want %.2f of it", mark[i+1], stock, err, share)
		}
	}
	c.post(at+"/thumbnails", sent).want(http.StatusUnprocessableEntity, "Choose a photo")
	c.post(at+"/thumbnails", sent, file{"photo", "light.png", h.sample.Picture}).want(http.StatusUnprocessableEntity, "tags are not seen")
	c.post(at+"/thumbnails", sent, file{"photo", "x.txt", []byte("x")}).want(http.StatusUnprocessableEntity, "not a picture")
}
