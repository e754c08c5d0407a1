package web

import (
	"context"
	"encoding/xml"
	"fmt"
	"image/png"
	"io"
	"net/http"
	"os/exec"
	"strings"
	"testing"

	"zestysketch/internal/checkin"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/work"
)

// work starts a worker on the house until the test ends.
func (h *house) work() {
	ctx, stop := context.WithCancel(context.Background())
	done := make(chan struct{})
	makers := map[store.JobKind]work.Maker{store.SetJob: press.Make, store.PhotoJob: checkin.Make}
	go func() { work.Worker{Store: h.db, Log: h.log, Makers: makers}.Run(ctx); close(done) }()
	h.t.Cleanup(func() { stop(); <-done })
}

// A class set, as a teacher makes it: pages chosen, counted, made with
// progress, and every page where pdfinfo finds it.
func TestPrintingForTheClass(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.work()
	s := h.open(1280, 800)
	s.signIn()
	s.visit(h.address("/projects/{project}/print"))
	s.see(".bigcount", `5\s+pages a set · 10 for 2 sets, 10 sheets of paper`)
	s.unfold("summary", "Choose pages")
	s.page.MustElement(`[name="kind"][value="clean"]`).MustClick()
	s.see(".bigcount", `4\s+pages a set · 8 for 2 sets`)
	s.unfold("summary", "Choose people")
	s.page.MustElement(`[name="spare"]`).MustSelectAllText().MustInput("1")
	s.see(".bigcount", `12 for 3 sets`)
	s.unfold("summary", "Choose paper")
	s.page.MustElement(`[name="duplex"]`).MustClick()
	s.see(".bigcount", `6 sheets of paper`)
	s.page.MustElement("#paper").MustSelect("another size…")
	s.page.MustElement("#paper_size").MustInput("100 × 100 mm")
	s.see("#sample", "does not fit the paper")
	s.page.MustElement("#paper").MustSelect("Letter")
	s.see(".bigcount", `4\s+pages a set`)
	s.press("button", "Make the class set")
	link := s.see(".job-done:nth-last-child(2) a", "Get the PDF") // the house has one already
	c := h.signIn("owner@quay.example")
	pdf := c.get(*link.MustAttribute("href")).want(http.StatusOK, "%PDF-")
	info := exec.Command("pdfinfo", "-")
	info.Stdin = strings.NewReader(pdf.body)
	if out, err := info.CombinedOutput(); err != nil || !strings.Contains(string(out), "Pages:           12") {
		t.Errorf("%v\n%s", err, out)
	}
	s.unfold("summary", "Save this choice")
	s.page.MustElement("#set_name").MustInput("Week two")
	s.press("button", "Save")
	s.page.MustElement(".choose > details:not([open]) .sets") // the page is made anew
	s.unfold("summary", "Choose pages")
	s.see(".sets", "Week two")
}

func TestSinglePages(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	svg := c.get(h.address("/projects/{project}/print/page.svg?chosen=1&kind=reference&grey=1&paper=Letter&page=1")).want(http.StatusOK, "data:image/jpeg;base64,")
	d := xml.NewDecoder(strings.NewReader(svg.body))
	for {
		if _, err := d.Token(); err == io.EOF {
			break
		} else if err != nil {
			t.Fatal(err)
		}
	}
	img, err := png.DecodeConfig(strings.NewReader(c.get(h.address("/projects/{project}/print/page.png?chosen=1&kind=marks&paper=A4&page=1")).want(http.StatusOK, "").body))
	if err != nil || img.Width != 1654 || img.Height != 2339 {
		t.Errorf("the page has %d × %d pixels, %v; want A4 at 200 an inch", img.Width, img.Height, err)
	}
	for _, n := range []string{"0", "2", "x", ""} {
		c.get(h.address("/projects/{project}/print/page.png?chosen=1&kind=marks&paper=A4&page=")+n).want(http.StatusUnprocessableEntity, "Choose a page from 1 to 1")
	}
}

func TestBadPrinting(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	room := h.address("/projects/{project}/print")
	for query, say := range map[string]string{
		"chosen=1&paper=A4":                                 "Choose at least one page",
		"chosen=1&kind=poster&paper=A4":                     "Choose at least one page",
		"chosen=1&kind=clean&paper=parchment":               "anted the printer",
		"chosen=1&kind=reference&paper=A6":                  "choose A4",
		"chosen=1&kind=clean&paper=A4&spare=900":            "0 to 30 spare sets",
		"chosen=1&kind=clean&paper=A4&spare=some":           "0 to 30 spare sets",
		"chosen=1&kind=views&paper=A4&views=12":             "two to six views",
		"chosen=1&kind=views&paper=A4&solid=tall":           "width × height",
		"chosen=1&kind=views&paper=A4&solid=6x10&depth=-1":  "depth",
		"chosen=1&kind=clean&paper=other&paper_size=9x9999": "anted the printer",
	} {
		c.get(room+"?"+query).want(http.StatusOK, say)
		c.get(room+"/set.pdf?"+query).want(http.StatusUnprocessableEntity, say)
	}
	c.get(room+"?chosen=1&kind=clean&paper=A4&printer=99999").want(http.StatusNotFound, "")
	jobs := room + "/jobs"
	c.post(jobs, form{"kind": "clean", "paper": "A4", "who": "some"}).want(http.StatusUnprocessableEntity, "Choose for whom")
	c.post(room+"/sets", form{"kind": "clean", "paper": "A4"}).want(http.StatusUnprocessableEntity, "Write a name for the set")
	c.get(h.address("/jobs/{job}/set.pdf")).want(http.StatusNotFound, "")
	c.post(h.address("/jobs/{job}/cancel"), nil).location()
	c.get(room).want(http.StatusOK, "Cancelled.")
}

func TestPrinters(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	one := h.address("/printers/{printer}")
	c.get(one+"/check.pdf?paper=A4&units=mm").want(http.StatusOK, "%PDF-")
	for _, bad := range []struct{ paper, across, down, say string }{
		{"A4", "wide", "240", "what the ruler says of the bar across"},
		{"A4", "100", "265", "80 and 120 %"},
		{"A4", "180", "900", "80 and 120 %"},
		{"moon", "180", "240", "anted the printer"},
	} {
		c.post(one, form{"paper": bad.paper, "across": bad.across, "down": bad.down, "units": "mm"}).want(http.StatusUnprocessableEntity, bad.say)
	}
	c.post(one, form{"paper": "A4", "across": "182 mm", "down": "24.5 cm", "units": "mm"}).location()
	c.get("/printers").want(http.StatusOK, "A4: prints")
	// The correction is in the page: its check bar is stretched by what the printer shrinks.
	room := h.address("/projects/{project}/print/page.svg?chosen=1&kind=project&paper=A4&page=1")
	plain, mended := c.get(room).body, c.get(room+fmt.Sprintf("&printer=%d", h.printer.ID)).body
	if plain == mended || !strings.Contains(plain, "M5 ") {
		t.Error("the printer's correction changes nothing")
	}
	c.post("/printers", form{"name": ""}).want(http.StatusUnprocessableEntity, "Write a name for the printer")
	c.post("/printers", form{"name": "X", "margin": "90mm"}).want(http.StatusUnprocessableEntity, "0 to 30 mm")
	c.post(one+"/remove", nil).location()
	c.get(one+"/check.pdf?paper=A4").want(http.StatusNotFound, "")
}

// A student's link opens that student's page and nothing else, ticks only
// their own boxes, and is gone when it is revoked.
func TestStudentLinks(t *testing.T) {
	h := newHouse(t)
	nobody := h.nobody()
	own := "/s/" + h.link
	page := nobody.get(own).want(http.StatusOK, "Ada")
	if page.says("Bryn") {
		t.Error("Ada's page shows Bryn")
	}
	for name, want := range map[string]string{"Cache-Control": "no-store", "Referrer-Policy": "no-referrer"} {
		if got := page.header.Get(name); got != want {
			t.Errorf("%s is %q; want %q", name, got, want)
		}
	}
	nobody.get(own+"/picture").want(http.StatusOK, "")
	nobody.post(own+"/ticks", form{"label": "A1", "on": "1"}).location()
	nobody.post(own+"/ticks", form{"label": "Z99", "on": "1"}).want(http.StatusUnprocessableEntity, "not in the plan")
	nobody.get(own+"?box=B2").want(http.StatusOK, "B2 is done")
	ticks, err := h.db.Ticks(context.Background(), h.project.ID)
	if err != nil || len(ticks) != 1 || !ticks[h.class.Students[0].ID]["A1"] {
		t.Errorf("ticks %v, %v; want Ada's A1 alone", ticks, err)
	}
	for _, wrong := range []string{"x", strings.Repeat("a", 26), h.link[:25], h.link + "a"} {
		nobody.get("/s/"+wrong).want(http.StatusNotFound, "Ask your teacher")
		nobody.get("/s/"+wrong+"/picture").want(http.StatusNotFound, "")
		nobody.post("/s/"+wrong+"/ticks", form{"label": "A1", "on": "1"}).want(http.StatusNotFound, "")
	}
	// A link is no sign-in.
	if at := nobody.get(h.address("/projects/{project}")).location(); !strings.HasPrefix(at, "/signin") {
		t.Errorf("a student opens the project: %q", at)
	}
	c := h.signIn("owner@quay.example")
	c.post(h.address("/students/{student}"), form{"hand": "left", "units": "cm"}).location()
	nobody.get(own).want(http.StatusOK, "G1 is done")
	traits := form{"hand": "left", "units": "cm", "pace": "slow", "team": "  Harbour   table ", "home": "ruler, window", "needs": "high contrast"}
	c.post(h.address("/students/{student}"), traits).location()
	for _, kept := range []string{`value="Harbour table"`, `value="ruler, window"`, `value="high contrast" checked`, `<option value="slow" selected>`} {
		c.get("/classes").want(http.StatusOK, kept)
	}
	c.get(h.address("/projects/{project}/wall?order=groups")).want(http.StatusOK, `<h2 class="tiles-head">Harbour table</h2>`)
	c.post(h.address("/students/{student}"), form{"hand": "left", "pace": "soon"}).want(http.StatusUnprocessableEntity, "slow, usual or quick")
	c.post(h.address("/students/{student}"), form{"hand": "left", "team": strings.Repeat("x", 60)}).want(http.StatusUnprocessableEntity, "shorter group")
	c.post(h.address("/students/{student}"), form{"hand": "foot"}).want(http.StatusUnprocessableEntity, "right or left hand")
	c.post(h.address("/students/{student}/links/revoke"), nil).location()
	nobody.get(own).want(http.StatusNotFound, "opens nothing any more")
}
