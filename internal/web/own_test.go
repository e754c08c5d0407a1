package web

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/jpeg"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/demo"
	"zestysketch/internal/store"
	"zestysketch/internal/web/static"
)

// The box in hand, done and next stand in view without scrolling, whatever the screen, and
// what is pressed is at least 48 pixels high.
func TestOwnDesk(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(390, 844)
	if err := h.db.TickBoxes(context.Background(), h.project.TeacherID, h.project.ID, h.class.Students[0].ID, []string{"A1"}, true, time.Now()); err != nil {
		t.Fatal(err) // drawing has begun
	}
	for _, size := range [][2]int{{390, 844}, {768, 1024}, {844, 390}, {1024, 768}, {1280, 800}} {
		s.page.MustSetViewport(size[0], size[1], 1, false)
		s.visit("/s/" + h.link + "?box=A1")
		s.page.MustElement("#own-picture svg")
		out := s.page.MustEval(`() => {
			document.querySelector("#own-care")?.removeAttribute("open");
			const low = [];
			for (const id of ["own-picture", "own-tick", "own-next"]) {
				const r = document.getElementById(id).getBoundingClientRect();
				if (r.top < 0 || r.bottom > innerHeight || r.height < 48) low.push(id + " from " + r.top + " to " + r.bottom);
			}
			for (const b of document.querySelectorAll(".own-desk .btn, .own-map a")) {
				const r = b.getBoundingClientRect();
				if (r.height && (r.height < 47.5 || r.width < 47.5)) low.push(b.textContent + " is " + r.width + " × " + r.height);
			}
			return low.join("; ");
		}`).Str()
		if out != "" {
			t.Errorf("%d × %d: %s", size[0], size[1], out)
		}
	}
	place := func() string {
		return s.page.MustEval(`() => document.querySelector(".own-box").getBoundingClientRect().left < document.querySelector(".own-side").getBoundingClientRect().left ? "left" : "right"`).Str()
	}
	if at := place(); at != "left" {
		t.Errorf("the box lies on the %s for the right hand", at)
	}
	// A tick that the server has leaves the page as it is; what is called to the class stands on it.
	if err := h.db.SetCall(context.Background(), store.Call{ProjectID: h.project.ID, ClassID: h.class.ID, Words: "Pencils down"}); err != nil {
		t.Fatal(err)
	}
	s.visit("/s/" + h.link)
	s.page.MustEval(`() => { globalThis.same = true }`)
	s.page.MustElement("#own-tick").MustClick()
	h.ticked(t, h.class.Students[0].ID, 2)
	s.see("#own-call", "Pencils down")
	if !s.page.MustEval(`() => globalThis.same === true`).Bool() {
		t.Error("a tick opened the page anew")
	}
	// By strips: covered from the edge on; past the middle the page turns round.
	s.page.MustElement(`[data-mode="strips"]`).MustClick()
	s.see("#own-stripsays", `^Strip 1 of`)
	for range 20 {
		s.page.MustEval(`() => document.getElementById("own-stripnext").click()`)
	}
	s.see("#own-stripsays", "other side of your drawing")
	if at := place(); at != "right" {
		t.Errorf("past the middle the picture lies on the %s", at)
	}
	s.page.MustElement(`[data-mode="strips"]`).MustClick()
	s.page.MustElement(`[data-mode="same"]`).MustClick()
	s.see("#own-stripsays", "Lay it")
	s.page.MustElement(`[data-mode="same"]`).MustClick()
	for _, look := range []string{"squint", "tones", "empty"} {
		s.page.MustElement(`[data-look="` + look + `"]`).MustClick()
		s.page.MustElement("#own-picture svg")
	}
	h.signIn("owner@quay.example").post(h.address("/students/{student}"), form{"hand": "left", "units": "cm"}).location()
	s.visit("/s/" + h.link + "?box=A1")
	if at := place(); at != "right" {
		t.Errorf("the box lies on the %s for the left hand", at)
	}
}

// A student hands a photo in without a network: it is sent once when that is back, and what
// it says stands beside its places. Others' drawings, and photos of no drawing, are not kept.
func TestOwnPhoto(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.work()
	s := h.open(390, 844)
	own := "/s/" + h.link
	s.visit(own + "/photo")
	s.page.MustElement("#photo-page[data-ready]")
	h.down.Store(true)
	mine := h.photographed(0, h.project.ID, demo.Hand{Size: 1.04})
	s.page.MustElement("#photo").MustSetFiles(s.save("mine.jpg", mine))
	s.see("#banner", "kept on this tablet")
	h.down.Store(false)
	s.see("#seen h2", "What your photo of")
	s.see(".thing", "too large")
	s.unfold(".thing summary", "Lay one over")
	s.page.MustElement(".thing .over")
	s.page.MustElement(".thing [data-mended]").MustClick()
	photos, err := h.db.CheckIns(context.Background(), h.project)
	if err != nil || len(photos) != 2 { // one is of the house
		t.Errorf("%d photos are kept, %v; want the one that was handed in", len(photos), err)
	}
	// With a second photo the drawing is seen to grow, whole or a box of it; nobody else's photos are in it.
	if len(s.page.MustElements("[data-film]")) > 0 {
		t.Error("one photo is a film")
	}
	s.page.MustElement("#photo").MustSetFiles(s.save("again.jpg", h.photographed(0, h.project.ID, demo.Hand{Size: 1.06})))
	s.page.MustElement("[data-film]")
	opacity := func() string {
		return s.page.MustEval(`() => [...document.querySelectorAll("[data-film] image")].map((i) => i.getAttribute("opacity")).join(" ")`).Str()
	}
	first := opacity()
	s.page.MustEval(`() => { const at = document.getElementById("film-at"); at.value = 100; at.dispatchEvent(new Event("input", { bubbles: true })); }`)
	if last := opacity(); first != "1 0" || last != "1 1" {
		t.Errorf("the film begins with %q and ends with %q", first, last)
	}
	s.page.MustElement("#film-part").MustSelect("C4")
	if box := s.page.MustElement("[data-film]").MustAttribute("viewBox"); strings.HasPrefix(*box, "0 0 ") {
		t.Errorf("of C4 %s is seen", *box)
	}
	kept := 0 // each is kept by itself, for times without a network
	for try := 0; kept != 2 && try < 100; try++ {
		time.Sleep(50 * time.Millisecond)
		kept = s.page.MustEval(`async () => (await (await caches.open("zesty-own-2")).keys()).filter((r) => /\/drawing\?photo=\d+$/.test(r.url)).length`).Int()
	}
	if kept != 2 {
		t.Errorf("%d photos of the film are kept; want both", kept)
	}
	nobody := h.nobody()
	earlier := *s.page.MustElement("[data-film] image").MustAttribute("href")
	nobody.get(earlier).want(http.StatusOK, "")
	other, err := h.db.Link(context.Background(), h.project, h.class.Students[1].ID)
	if err != nil {
		t.Fatal(err)
	}
	nobody.get(strings.Replace(earlier, h.link, other, 1)).want(http.StatusNotFound, "")
	nobody.get(own+"/drawing?photo=999999").want(http.StatusNotFound, "")
	for _, path := range []string{"/drawing", "/wanted"} {
		if got := nobody.get(own+path).want(http.StatusOK, "").header.Get("Content-Type"); got != "image/jpeg" {
			t.Errorf("%s is %q", path, got)
		}
	}
	for words, photo := range map[string][]byte{"somebody else’s drawing": h.photographed(1, h.project.ID, demo.Hand{Size: 1}), "No drawing was found": plain(t)} {
		s.page.MustElement("#photo").MustSetFiles(s.save("other.jpg", photo))
		s.see("#seen", words)
	}
	if photos, err = h.db.CheckIns(context.Background(), h.project); err != nil || len(photos) != 3 {
		t.Errorf("%d photos are kept, %v; what is no drawing of theirs is not", len(photos), err)
	}
	nobody.post(own+"/photo", nil, file{"photo", "p.jpg", []byte("no photo")}).want(http.StatusUnprocessableEntity, "")
	nobody.post(own+"/photo", nil).want(http.StatusUnprocessableEntity, "Take or choose")
	nobody.post("/s/x/photo", nil, file{"photo", "p.jpg", mine}).want(http.StatusNotFound, "")
	nobody.get("/s/x/photo/now").want(http.StatusNotFound, "")

	// The teacher shows boxes without words, then closes it.
	c := h.signIn("owner@quay.example")
	c.post(h.address("/projects/{project}/handin"), form{"when": "", "bare": "1"}).location()
	if body := nobody.get(own+"/photo").want(http.StatusOK, "The picture").body; strings.Contains(body, "too large") {
		t.Error("words stand beside the boxes where the teacher wants none")
	}
	c.post(h.address("/projects/{project}/handin"), form{"when": "closed"}).location()
	nobody.get(own+"/photo").want(http.StatusOK, "when your teacher says so")
	nobody.post(own+"/photo", nil, file{"photo", "p.jpg", mine}).want(http.StatusUnprocessableEntity, "was not sent")
	c.post(h.address("/projects/{project}/handin"), form{"when": "never"}).want(http.StatusUnprocessableEntity, "Choose when")

	// A shared tablet keeps nothing.
	s.visit(own)
	s.page.MustElement("#own-away").MustClick()
	s.page.MustElementR("h1", "Put away")
	left := s.page.MustEval(`async () => [Object.keys(localStorage).join(" "), ...(await caches.keys()), ...(await indexedDB.databases()).map((d) => d.name)].join(" ").trim()`).Str()
	if left != "" {
		t.Errorf("on a tablet that was put away lies %q", left)
	}
}

// plain is a photo of nothing.
func plain(t *testing.T) []byte {
	t.Helper()
	img := image.NewGray(image.Rect(0, 0, 1200, 900))
	for i := range img.Pix {
		img.Pix[i] = uint8(120 + i%7)
	}
	var out bytes.Buffer
	if err := jpeg.Encode(&out, img, nil); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// A tablet keeps the pages of one student: who opens the next one's finds no trace of the
// first.
func TestSharedTablet(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(768, 1024)
	other, err := h.db.Link(context.Background(), h.project, h.class.Students[1].ID)
	if err != nil {
		t.Fatal(err)
	}
	cached := func() string {
		return s.page.MustEval(`async () => {
			const all = [];
			for (const name of await caches.keys()) for (const r of await (await caches.open(name)).keys()) all.push(new URL(r.url).pathname);
			return all.filter((p) => p.startsWith("/s/")).join(" ");
		}`).Str()
	}
	s.visit("/s/" + h.link + "?box=A1")
	s.page.MustWait(`() => navigator.serviceWorker.controller !== null`)
	for _, link := range []string{h.link, other} {
		s.visit("/s/" + link)
		for try := 0; !strings.Contains(cached(), link); try++ {
			if try > 100 {
				t.Fatalf("the page of %s is not kept: %s", link, cached())
			}
			time.Sleep(50 * time.Millisecond)
		}
	}
	if kept := cached(); strings.Contains(kept, h.link) {
		t.Errorf("the first student's pages stay: %s", kept)
	}
	// Scripts and styles of the last two versions stay, for pages that were kept with them.
	versions := s.page.MustEval(`async (root) => {
		const cache = await caches.open("zesty-own-2");
		for (const v of ["v-000000000001", "v-000000000002"]) await cache.put("/static/" + v + "/app.js", new Response("x"));
		await fetch(root + "slides.js");
		return [...new Set((await cache.keys()).map((r) => new URL(r.url).pathname).filter((p) => p.startsWith("/static/v-")).map((p) => p.split("/")[2]))].sort().join(" ");
	}`, static.Path("")).Str()
	if want := strings.Split(static.Path(""), "/")[2]; versions != "v-000000000002 "+want && versions != want+" v-000000000002" {
		t.Errorf("of versions %q are kept; want the last two, with %s", versions, want)
	}
	// Who puts the tablet away takes nothing of another's that waits to be sent.
	s.page.MustEval(`async (link) => (await import("/static/photoqueue.js")).keepPhoto(link, new File(["x"], "x.jpg"))`, "/s/"+h.link)
	s.page.MustElement("#own-away").MustClick()
	s.page.MustElementR("h1", "Put away")
	if n := s.page.MustEval(`async (link) => (await (await import("/static/photoqueue.js")).photosOf(link)).length`, "/s/"+h.link).Int(); n != 1 {
		t.Errorf("%d photos of the other student wait; want the one", n)
	}
}

// From the first mark to the last look on one's own page: steps are ticked without a
// network, the grid waits for a look, a helper at home gives theirs once, what is at hand
// chooses the way of transfer, and the two questions stand in the report.
func TestOwnRoad(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	road := form{"outline": "first", "darks": "first", "helpers": "1"}
	for _, k := range []string{"markup", "draw", "check", "transfer", "reflect"} {
		road["on_"+k] = "1"
	}
	for _, k := range []string{"pick", "compose", "markup", "draw", "check", "transfer", "ink", "erase", "tone", "reflect"} {
		road["minutes_"+k] = "10"
	}
	for _, k := range []string{"markup", "check", "transfer"} {
		road["check_"+k] = "Somebody looks."
	}
	c.post(h.address("/projects/{project}/road"), road).location()
	s := h.open(768, 1024)
	own := "/s/" + h.link
	s.visit(own)
	s.see("#own-card", "My grid is ready: look")
	h.down.Store(true)
	s.page.MustElement(`#own-card [data-own="step:markup:1"]`).MustClick()
	s.see("#banner", "No connection")
	h.down.Store(false)
	s.sent()
	s.visit(own)
	if !s.page.MustElement(`#own-card [data-own="step:markup:1"]`).MustProperty("checked").Bool() {
		t.Error("a step that was ticked without a network is lost")
	}
	s.page.MustElement("#own-ready").MustClick()
	s.see("#own-card", "Your teacher looks at it")
	student := h.class.Students[0]
	c.get(h.address("/projects/{project}/wall?student=")+fmt.Sprint(student.ID)).want(http.StatusOK, "Link for a helper at home")

	// The helper looks, at home.
	base := h.address("/projects/{project}/students/{student}")
	page := c.post(base+"/helper", form{"stage": "markup"}).want(http.StatusOK, "Open for two weeks").body
	link := regexp.MustCompile(`/h/[a-z2-7]{26}`).FindString(page)
	nobody := h.nobody()
	nobody.get(link).want(http.StatusOK, "Are all boxes of one size?")
	yes := form{"ask1": "yes", "ask2": "yes", "ask3": "yes", "name": "Aunt Ilse"}
	nobody.post(link, form{"ask1": "yes", "name": "Aunt Ilse"}).want(http.StatusUnprocessableEntity, "Answer each question")
	nobody.post(link, form{"ask1": "yes", "ask2": "yes", "ask3": "yes"}).want(http.StatusUnprocessableEntity, "Write your name")
	nobody.post(link, yes).location()
	nobody.post(link, yes).want(http.StatusUnprocessableEntity, "answered already")
	nobody.get(link).want(http.StatusOK, "Thank you")
	nobody.get("/h/abc").want(http.StatusNotFound, "opens nothing any more")
	nobody.post("/h/abc", yes).want(http.StatusNotFound, "")
	c.get(h.address("/projects/{project}/wall?student=")+fmt.Sprint(student.ID)).want(http.StatusOK, "Aunt Ilse, helper at home")
	c.post(base+"/helper", form{"stage": "draw"}).want(http.StatusUnprocessableEntity, "no checkpoint")

	// Drawn, looked at, carried over by what is at hand.
	ctx, teacher, project := context.Background(), h.project.TeacherID, h.project.ID
	if err := h.db.TickBoxes(ctx, teacher, project, student.ID, labels(h), true, time.Now()); err != nil {
		t.Fatal(err)
	}
	nobody.get(own).want(http.StatusOK, "You are early")
	nobody.post(own+"/stage", form{"stage": "transfer"}).want(http.StatusUnprocessableEntity, "not the one in hand")
	for _, stage := range []string{"draw", "check"} {
		nobody.post(own+"/stage", form{"stage": stage}).location()
	}
	c.post(base+"/verdict", form{"stage": "check", "verdict": "passed", "seen": "0"}).location()
	nobody.get(own).want(http.StatusOK, "What have you at hand?")
	nobody.post(own+"/own", form{"what": "home", "value": "window,tape"}).location()
	nobody.get(own).want(http.StatusOK, "By light: window", "is every line of the list there?", "the line from")
	nobody.post(own+"/stage", form{"stage": "transfer"}).location()
	c.post(base+"/verdict", form{"stage": "transfer", "verdict": "passed", "seen": "0"}).location()
	s.visit(own)
	s.page.MustElement("#own-glad").MustInput("The clouds.").MustBlur()
	s.unfold(".own-goals summary", "How do I judge")
	s.page.MustElement(`[data-own="goal:values"]`).MustClick()
	s.sent()
	c.get(base+"/report").want(http.StatusOK, "Glad of: The clouds.").want(http.StatusOK, "says of it: Light, middle and dark")
	for _, wrong := range []form{{"what": "else", "value": "1"}, {"what": "glad", "value": strings.Repeat("x", 700)}, {}} {
		nobody.post(own+"/own", wrong).want(http.StatusUnprocessableEntity, "")
	}
	nobody.post("/s/x/own", form{"what": "glad", "value": "x"}).want(http.StatusNotFound, "")
	nobody.post("/s/x/stage", form{"stage": "draw"}).want(http.StatusNotFound, "")
}

// The page follows the stage, on a phone and on a tablet: before drawing the whole picture and what to do, while
// drawing the box, with the whole a press away, and after drawing both side by side; never broader than the screen.
func TestPageFollowsTheStage(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.work()
	ctx, teacher, project, student := context.Background(), h.project.TeacherID, h.project.ID, h.class.Students[0].ID
	do := func(stages ...lesson.StageID) {
		for _, k := range stages {
			if err := h.db.DoStage(ctx, teacher, project, student, k, true); err != nil {
				t.Fatal(err)
			}
		}
	}
	tick := func(labels []string) {
		if err := h.db.TickBoxes(ctx, teacher, project, student, labels, true, time.Now()); err != nil {
			t.Fatal(err)
		}
	}
	phone, tablet := h.open(390, 844), h.open(1024, 768)
	phone.withAxe()
	seen := func(when, there, gone string) {
		t.Helper()
		for _, s := range []*screen{phone, tablet} {
			s.visit("/s/" + h.link)
			visible := s.page.MustEval(`(there, gone) => { const seen = (e) => e.checkVisibility();
				return [...document.querySelectorAll(there)].some(seen) && ![...document.querySelectorAll(gone)].some(seen) && document.documentElement.scrollWidth <= innerWidth; }`, there, gone).Bool()
			if !visible {
				t.Errorf("%s: want %s and neither %s nor a page broader than its screen", when, there, gone)
			}
		}
		phone.axe(when, true)
	}
	seen("before drawing", ".own-first img.own-whole", "#own-picture, .own-map, .laidout")
	do("pick", "compose", "markup")
	h.signIn("owner@quay.example").post(h.address("/projects/{project}/students/{student}/verdict"), form{"stage": "markup", "verdict": "passed", "seen": "0"}).location()
	seen("drawing begins", "#own-picture svg", ".own-first")
	tick(labels(h)[:3])
	seen("while drawing", "#own-picture svg", ".own-first")
	phone.page.MustElement(`[data-look="whole"]`).MustClick()
	phone.page.MustElement("#own-picture .own-ring")
	phone.page.MustElement("#own-next").MustClick() // the next box is seen near
	phone.page.MustWait(`() => document.querySelector("#own-picture .own-frame") && !document.querySelector("#own-picture .own-ring")`)
	tick(labels(h))
	seen("all drawn, no photo yet", ".own-first img.own-whole", "#own-picture, .own-map, .laidout")
	phone.visit("/s/" + h.link + "/photo")
	phone.page.MustElement("#photo").MustSetFiles(phone.save("mine.jpg", h.photographed(0, project, demo.Hand{Size: 1.02})))
	phone.see("#seen h2", "What your photo of")
	seen("after drawing", ".own-first .laidout", "#own-picture, .own-map, .own-say")
	phone.unfold(".own-first summary", "Lay one over")
	phone.page.MustElement(".own-first [data-blink]").MustClick()
	phone.page.MustElement(`.own-first .over[opacity="0"]`)
}

// labels are those of all boxes of the house's plan.
func labels(h *house) (all []string) {
	for _, c := range h.sample.Plan.Cells() {
		all = append(all, c.Label)
	}
	return all
}

// Every route that a link opens is tried with one that opens nothing, and with one that was
// ended: none says anything.
func TestLinksOfNobody(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	ended := h.link
	if err := h.db.EndLinks(context.Background(), h.project.TeacherID, h.project.ID); err != nil {
		t.Fatal(err)
	}
	c, tried := h.nobody(), 0
	err := chi.Walk(h.routes, func(method, pattern string, _ http.Handler, _ ...func(http.Handler) http.Handler) error {
		if !strings.Contains(pattern, "{link}") {
			return nil
		}
		tried++
		path := strings.ReplaceAll(pattern, "{link}", ended)
		if method == http.MethodGet {
			c.get(path).want(http.StatusNotFound, "opens nothing")
			return nil
		}
		c.post(path, form{"label": "A1", "on": "1", "what": "glad", "value": "x", "stage": "draw", "kind": "halve", "help": "dots", "ask1": "yes"}).want(http.StatusNotFound, "opens nothing")
		return nil
	})
	if err != nil || tried < 15 {
		t.Errorf("%d routes were tried, %v", tried, err)
	}
}

// A photo outlives its page: the tablet is closed while it waits, and it is sent by the next
// page that is opened, once. On a tablet without room it goes at once; where two devices
// tick the same box it is ticked.
func TestPhotoOutlivesItsPage(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.work()
	s := h.open(390, 844)
	own := "/s/" + h.link
	kept := func(want int) {
		t.Helper()
		var photos []store.CheckIn
		for range 200 {
			var err error
			if photos, err = h.db.CheckIns(context.Background(), h.project); err != nil {
				t.Fatal(err)
			}
			if len(photos) == want {
				return
			}
			time.Sleep(50 * time.Millisecond)
		}
		t.Errorf("%d photos are kept; want %d", len(photos), want)
	}
	s.visit(own + "/photo")
	s.page.MustElement("#photo-page[data-ready]")
	h.down.Store(true)
	s.page.MustElement("#photo").MustSetFiles(s.save("mine.jpg", h.photographed(0, h.project.ID, demo.Hand{Size: 1})))
	s.see("#banner", "kept on this tablet")
	s.page.MustNavigate("about:blank")
	h.down.Store(false)
	s.visit(own + "/photo")
	s.see("#seen h2", "What your photo of")
	kept(2) // one is of the house

	full := h.open(390, 844)
	full.page.MustEvalOnNewDocument(`IDBObjectStore.prototype.put = () => { throw new DOMException("full", "QuotaExceededError"); }`)
	full.visit(own + "/photo")
	full.page.MustElement("#photo-page[data-ready]")
	full.page.MustElement("#photo").MustSetFiles(s.save("next.jpg", h.photographed(0, h.project.ID, demo.Hand{Size: 1.03})))
	full.see("#photo-says", "Handed in")
	kept(3)

	for _, one := range []*screen{s, full} {
		one.visit(own + "?box=C3")
	}
	for _, one := range []*screen{s, full} {
		one.page.MustElement("#own-tick").MustClick()
		one.sent()
	}
	h.ticked(t, h.class.Students[0].ID, 1)
}
