package web

import (
	"context"
	"fmt"
	"os"
	"testing"
)

// withAxe puts axe-core 4.14.1, from the npm registry, into every page that a screen visits from now on, past the content
// security policy, which it does not loosen.
func (s *screen) withAxe() {
	s.t.Helper()
	axe, err := os.ReadFile("testdata/axe.min.js")
	if err != nil {
		s.t.Fatal(err)
	}
	s.page.MustEvalOnNewDocument(string(axe))
}

// axe says what it finds on the page as it stands.
func (s *screen) axe(what string, colours bool) {
	s.t.Helper()
	found := s.page.MustEval(`(colours) => axe.run({ resultTypes: ["violations"], rules: { "color-contrast": { enabled: colours } } }).then((r) => r.violations.map((v) => v.id + ": " + v.help + " " + v.nodes.map((n) => n.html).slice(0, 2).join(" ")))`,
		colours)
	for _, v := range found.Arr() {
		s.t.Errorf("%s: %s", what, v.Str())
	}
}

// axe-core finds nothing on any page, at the width of a laptop and of a phone.
func TestAccessibility(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	places := form{"corners": "181,190 1040,172 1082,1311 128,1290", "version": "0"}
	h.signIn("owner@quay.example").post(h.address("/checkins/{checkin}/places"), places).want(200, "")
	s := h.open(1280, 800)
	s.withAxe()
	colours := true // which do not change with the width
	look := func(path string) {
		t.Helper()
		s.visit(path)
		s.axe(path, colours)
	}
	look("/signin")
	s.signIn()
	helper, err := h.db.AddHelperLink(context.Background(), h.project.TeacherID, h.project.ID, h.class.Students[0].ID, "markup")
	if err != nil {
		t.Fatal(err)
	}
	paths := []string{"/h/" + helper, "/", "/classes", "/projects/new", "/nowhere", "/library", "/printers",
		"/s/" + h.link, "/s/" + h.link + "/train", "/s/" + h.link + "/photo", "/s/away", "/reckoner",
		"/reckoner/marks", "/reckoner/cut", "/reckoner/guidelines", "/reckoner/angle-and-distance", "/account",
		"/account/second", "/shelf", "/school", "/school/people", "/school/deeds", "/school/backups", "/classes/year",
		"/search?q=a", "/help", fmt.Sprintf("/students/%d", h.class.Students[0].ID)}
	for _, pattern := range []string{"/projects/{project}", "/projects/{project}?step=picture",
		"/projects/{project}?step=compose", "/projects/{project}?step=size", "/projects/{project}?step=marks",
		"/projects/{project}/print", "/projects/{project}/links/screen", "/about", "/go",
		"/projects/{project}/gestures", "/projects/{project}/points", "/projects/{project}/views", "/projects/{project}/road",
		"/projects/{project}/road?take=way-views", "/projects/{project}/projector",
		"/projects/{project}/demonstration", "/projects/{project}/eyes", "/projects/{project}/round",
		"/projects/{project}/report", "/projects/{project}/students/{student}/report", "/projects/{project}/log",
		"/projects/{project}/materials", "/classes/{class}/calendar", "/classes/{class}/shares",
		"/projects/{project}/shares", "/projects/{project}/wall", "/projects/{project}/check",
		"/projects/{project}/values", "/projects/{project}/values?steps=4&rule=hand", "/projects/{project}/lines",
		"/projects/{project}/finish", "/projects/{project}/finish/ink", "/projects/{project}/finish/tone",
		"/projects/{project}/finish/colour", "/projects/{project}/finish/tiles", "/projects/{project}/finish/show",
		"/checkins/{checkin}"} {
		paths = append(paths, h.address(pattern))
	}
	// No button, head or label is cut by its own box, unless it says so by an ellipsis.
	whole := func(path string) {
		t.Helper()
		cut := s.page.MustEval(`() => [...document.querySelectorAll("button, .btn, label, h1, h2, h3, legend, th, td, summary, option:checked")]
			.filter((e) => e.checkVisibility() && !e.closest(".visually-hidden") && getComputedStyle(e).textOverflow !== "ellipsis" && getComputedStyle(e).overflow === "hidden" && e.scrollWidth > e.clientWidth + 1)
			.map((e) => e.tagName + " " + e.textContent.trim().slice(0, 40)).slice(0, 3).join("; ")`).Str()
		if cut != "" {
			t.Errorf("%s cuts %s", path, cut)
		}
	}
	for _, path := range paths {
		look(path)
		whole(path)
	}
	// In a dark room too, on the pages that stand before a class.
	s.page.MustEval(`() => localStorage.setItem("zesty-dark-room", "yes")`)
	for _, pattern := range []string{"/projects/{project}/projector", "/projects/{project}/demonstration", "/projects/{project}/eyes"} {
		look(h.address(pattern))
		if dark := s.page.MustEval(`() => document.documentElement.hasAttribute("data-dark") && getComputedStyle(document.body).backgroundColor`).Str(); dark != "rgb(16, 23, 26)" {
			t.Errorf("%s in a dark room: %s", pattern, dark)
		}
	}
	s.visit(h.address("/projects/{project}/projector"))
	s.press("[data-darkroom]", "Light room")
	s.page.MustElementR("[data-darkroom]", "Dark room")
	s.page.MustSetViewport(360, 780, 1, true)
	colours = false
	for _, path := range paths {
		look(path)
		whole(path)
		if wide := s.page.MustEval(`() => document.documentElement.scrollWidth - 360`).Int(); wide > 0 {
			t.Errorf("%s is %d pixels wider than a phone of 360", path, wide)
		}
	}
}
