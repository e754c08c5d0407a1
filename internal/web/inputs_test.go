package web

import (
	"bytes"
	"context"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/jpeg"
	"image/png"
	"math/rand/v2"
	"net/http"
	"strings"
	"testing"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
)

// hugePNG claims 200 megapixels in its header.
func hugePNG(t *testing.T) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, 20, 20))); err != nil {
		t.Fatal(err)
	}
	out := b.Bytes()
	binary.BigEndian.PutUint32(out[16:], 20000)
	binary.BigEndian.PutUint32(out[20:], 10000)
	binary.BigEndian.PutUint32(out[29:], crc32.ChecksumIEEE(out[12:29]))
	return out
}

func TestBadPictures(t *testing.T) {
	h := newHouse(t)
	h.work()
	c := h.signIn("owner@quay.example")
	for _, bad := range []struct {
		name string
		b    []byte
		say  string
	}{
		{"empty.png", nil, "the file is empty"},
		{"notes.txt", []byte("draw the jug"), "not a picture we can read"},
		{"half.png", h.sample.Picture[:len(h.sample.Picture)/2], "damaged or cut off"},
		{"half.jpg", h.sample.Photo[:len(h.sample.Photo)/2], "damaged or cut off"},
		{"huge.png", hugePNG(t), "too many pixels"},
		{"endless.jpg", make([]byte, picture.MaxBytes+2<<20), "larger than 40 MB"},
		{`..\..\<b>x.png`, []byte("x"), "“&lt;b&gt;x”"},
	} {
		c.post("/projects", form{"name": "X"}, file{"picture", bad.name, bad.b}).want(http.StatusUnprocessableEntity, bad.say)
		c.post(h.address("/projects/{project}/check"), form{"student": fmt.Sprint(h.class.Students[0].ID)}, file{"photo", bad.name, bad.b}).want(http.StatusUnprocessableEntity, bad.say)
	}
	c.post("/projects", form{"name": "X"}).want(http.StatusUnprocessableEntity, "Choose a picture first")
	if projects, err := h.db.Projects(context.Background(), h.project.TeacherID); err != nil || len(projects) != 1 {
		t.Errorf("%d projects, %v; want the one from before", len(projects), err)
	}
}

// A photo keeps nothing of its camera: the place where it was taken is gone.
func TestMetadataIsGone(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	var jpg bytes.Buffer
	if err := jpeg.Encode(&jpg, image.NewGray(image.Rect(0, 0, 64, 48)), nil); err != nil {
		t.Fatal(err)
	}
	secret := []byte("GPS 54.1234 N")
	comment := append([]byte{0xff, 0xfe, 0, byte(len(secret) + 2)}, secret...)
	tagged := append(append(append([]byte{}, jpg.Bytes()[:2]...), comment...), jpg.Bytes()[2:]...)
	c.post("/projects", form{"name": "Tagged"}, file{"picture", "t.jpg", tagged}).location()
	projects, err := h.db.Projects(context.Background(), h.project.TeacherID)
	if err != nil {
		t.Fatal(err)
	}
	for _, role := range []string{"full", "view", "thumb"} {
		a := c.get(fmt.Sprintf("/pictures/%d/%s", *projects[0].PictureID, role)).want(http.StatusOK, "")
		if a.says("GPS") {
			t.Errorf("the %s picture still says where it was taken", role)
		}
	}
}

// Whatever is typed into the plan, the answer marks the field, keeps what was
// typed, and says how to mend it.
func TestBadPlans(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	fragment := h.signIn("owner@quay.example")
	fragment.fragment = true
	for _, bad := range []struct{ field, typed, say string }{
		{"reference", "0", "must be more than 0"},
		{"reference", "-7in", "must be more than 0"},
		{"reference", "9999999 ft", "between 5 mm and 20 m"},
		{"reference", "wide", "wanted a size such as"},
		{"paper", "8x", "wanted a length such as"},
		{"reference_square", "40in", "larger than the picture"},
		{"reference_square", "2mm", "use fewer than"},
		{"round", "<i>", "wanted a length such as"},
	} {
		ask := planForm(h.sample.Plan.Typed, 1)
		ask[bad.field] = bad.typed
		if bad.field == "reference_square" {
			ask["sheet_square"] = ""
		}
		a := c.post(h.address("/projects/{project}/plan"), ask).want(http.StatusUnprocessableEntity, bad.say)
		if want := fmt.Sprintf(`name="%s" value="%s"`, bad.field, strings.NewReplacer("<", "&lt;", ">", "&gt;").Replace(bad.typed)); !a.says(want) {
			t.Errorf("%s %q is not kept in its field", bad.field, bad.typed)
		}
		fragment.post(h.address("/projects/{project}/plan"), ask).want(http.StatusUnprocessableEntity, `id="p-`+bad.field+`"`)
	}
	if p, err := h.db.Project(context.Background(), h.project.TeacherID, h.project.ID); err != nil || p.PlanVersion != 1 {
		t.Errorf("plan version %d, %v; want 1 still", p.PlanVersion, err)
	}
}

func TestTwoTeachersKeepAPlan(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	path := h.address("/projects/{project}/plan")
	c.post(path, planForm(h.sample.Plan.Typed, 1)).want(http.StatusOK, "Kept")
	a := c.post(path, planForm(h.sample.Plan.Typed, 1)).want(http.StatusUnprocessableEntity, "Somebody kept another plan meanwhile")
	if !a.says(`id="seen" value="2"`) {
		t.Error("keeping again is not offered")
	}
	c.post(path, planForm(h.sample.Plan.Typed, 2)).want(http.StatusOK, "Kept")
}

func TestPlanFileAndPDF(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	plan, err := grid.Decode([]byte(c.get(h.address("/projects/{project}/plan.json")).want(http.StatusOK, "zesty-plan/1").body))
	if err != nil || plan.Grid.Columns != 7 || plan.Grid.Rows != 9 {
		t.Errorf("the plan's file: %d × %d, %v; want 7 × 9", plan.Grid.Columns, plan.Grid.Rows, err)
	}
	pdf := c.get(h.address("/projects/{project}/print/set.pdf?paper=Letter")).want(http.StatusOK, "%PDF-")
	if got := pdf.header.Get("Content-Disposition"); !strings.Contains(got, `Harbour light.pdf`) {
		t.Errorf("the file is named %q", got)
	}
	c.get(h.address("/projects/{project}/print/set.pdf?chosen=1&kind=reference&paper=A5")).want(http.StatusUnprocessableEntity, "choose A4")
	c.get(h.address("/projects/{project}/print/set.pdf?paper=parchment")).want(http.StatusUnprocessableEntity, "anted the printer")
}

func TestBadTicksAndPlaces(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	ticks := h.address("/projects/{project}/students/{student}/ticks")
	c.post(ticks, form{"label": "Z99", "on": "1"}).want(http.StatusUnprocessableEntity, "not in the present plan")
	c.post(ticks, form{"label": "A1", "on": "perhaps"}).want(http.StatusUnprocessableEntity, "not in the present plan")
	c.post(h.address("/projects/{project}/students/99999/ticks"), form{"label": "A1", "on": "1"}).want(http.StatusNotFound, "")

	places := h.address("/checkins/{checkin}/places")
	good := "181,190 1040,172 1082,1311 128,1290"
	for _, bad := range []struct{ corners, marks, version, say string }{
		{"181,190 1082,1311 1040,172 128,1290", "", "0", "cross or lie too close"},
		{"5,5 5,5 5,5 5,5", "", "0", "cross or lie too close"},
		{"1,2 3,4", "", "0", "anted four corners"},
		{"a,b c,d e,f g,h", "", "0", "anted a place"},
		{"NaN,1 2,2 3,3 4,4", "", "0", "anted a place"},
		{good, "1:x,y", "0", "anted a place"},
		{good, "what", "0", "did not arrive whole"},
		{good, "", "", "did not arrive whole"},
	} {
		c.post(places, form{"corners": bad.corners, "marks": bad.marks, "version": bad.version}).want(http.StatusUnprocessableEntity, bad.say)
	}
	c.post(places, form{"corners": good, "marks": fmt.Sprintf("%d:300,300", h.mark.ID), "version": "0"}).want(http.StatusOK, "data-straight")
	c.post(places, form{"corners": good, "version": "0"}).want(http.StatusConflict, "Somebody changed this meanwhile")
	c.post(h.address("/projects/{project}/landmarks"), form{"place": "-900,5"}).want(http.StatusUnprocessableEntity, "outside the picture")
	c.post(h.address("/projects/{project}/landmarks/{landmark}"), form{"weight": "9"}).want(http.StatusUnprocessableEntity, "1, 2 or 3")
	c.post(h.address("/projects/{project}/comparing"), form{"looseness": "sloppy"}).want(http.StatusUnprocessableEntity, "Choose exact")
	c.post(h.address("/projects/{project}/comparing"), form{"looseness": "exact", "compare": "apples"}).want(http.StatusUnprocessableEntity, "what else to compare")
	c.post(h.address("/projects/{project}/comparing"), form{"looseness": "exact", "free": "A1, Z99"}).want(http.StatusUnprocessableEntity, "no box")
	c.post(h.address("/projects/{project}/landmarks/{landmark}"), form{"class": "huge"}).want(http.StatusUnprocessableEntity, "critical, usual or free")
}

func TestEmptyPlaces(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("other@quay.example")
	c.get("/").want(http.StatusOK, "First steps")
	c.get("/classes").want(http.StatusOK, "No class yet")
	c.post("/classes", form{"name": "Empty"}).location()
	at, _, _ := strings.Cut(c.post("/projects", form{"name": "New"}, file{"picture", "p.png", h.sample.Picture}).location(), "?")
	c.get(at).want(http.StatusOK, "Keep the plan to print it")
	c.get(at+"/wall").want(http.StatusUnprocessableEntity, "Keep the plan first")
	c.get(at+"/check").want(http.StatusUnprocessableEntity, "Keep the plan first")
	c.get(at+"/print").want(http.StatusUnprocessableEntity, "no plan yet")
	c.post(at+"/plan", planForm(h.sample.Plan.Typed, 0)).want(http.StatusOK, "Kept")
	c.get(at+"/wall").want(http.StatusOK, "Who draws?")
	c.get(at+"/check").want(http.StatusOK, "no class yet")
	c.post("/classes", form{"name": " "}).want(http.StatusUnprocessableEntity, "Write a name")
	c.post("/classes", form{"name": "Crowd", "students": strings.Repeat("x", 50)}).want(http.StatusOK, strings.Repeat("x", 40)+"</li>")
	var crowd strings.Builder
	for i := range 61 {
		fmt.Fprintf(&crowd, "S%d\n", i)
	}
	c.post("/classes", form{"name": "Crowd", "students": crowd.String()}).want(http.StatusUnprocessableEntity, "60 at most")
	c.get("/nowhere").want(http.StatusNotFound, "not there")
}

// Every form is filled with what nobody means, by a seed: bytes that are no
// text, numbers past every bound, markup, other fields' values. Each is answered
// in words; none is a fault of the program.
func TestFormsTakeAnything(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	dice := rand.New(rand.NewPCG(13, 2026))
	nasty := []string{"", " ", "\x00", "\xff\xfe", "-1", "0", "1e309", "NaN", "99999999999999999999", "½", "<script>alert(1)</script>", "' OR 1=1 --", "../../etc/passwd", "{{.}}", "%s%n",
		strings.Repeat("я", 3000), strings.Repeat("1,", 900), "a\r\nb: c", "A1", "Z99", "7 in", "1in x", "2026-13-45", "25:61", "[]", "{", "null", "true", "\u202e", "𝛂"}
	names := []string{"label", "on", "students", "class", "student", "looseness", "compare", "name", "place",
		"corners", "version", "seen", "reference", "paper", "frame", "split", "tags", "difficulty", "kind", "who",
		"set_name", "across", "down", "hand", "pace", "units", "team", "home", "needs", "pasted", "entries", "stage",
		"verdict", "what", "words", "from", "until", "day0", "start0", "minutes0", "week0", "single", "holidays",
		"setup", "clear",
		"zone", "minutes_draw", "on_draw", "check_draw", "outline", "have0", "price0", "weight", "own", "box", "plan", "at", "by", "do", "margin", "cut", "title", "basic", "objective"}
	tried := 0
	err := chi.Walk(h.routes, func(method, pattern string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
		if method != http.MethodPost || pattern == "/signout" || pattern == "/account/password" || strings.HasSuffix(pattern, "/delete") { // slow, and the end of all others: tested by themselves
			return nil
		}
		for range 12 {
			f := form{}
			for range 1 + dice.IntN(12) {
				f[names[dice.IntN(len(names))]] = nasty[dice.IntN(len(nasty))]
			}
			tried++
			if a := c.post(h.address(pattern), f); a.status >= 500 {
				t.Errorf("%s with %.300q: %d", pattern, f, a.status)
			}
		}
		return nil
	})
	if err != nil || tried < 300 {
		t.Errorf("%d forms were tried, %v", tried, err)
	}
	c.get(h.address("/projects/{project}/wall")).want(http.StatusOK, "")
	c.get("/classes").want(http.StatusOK, "")
}
