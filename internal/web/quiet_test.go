package web

import (
	"fmt"
	"testing"
)

// seenAtOnce counts what of a page's own a person sees at once: controls and words within the window. The header, the
// rail, previews, tables of students and the picture are no part of it.
const seenAtOnce = `() => {
	const aside = "header, .rail, nav, .pagesheets, .students, table, svg, .tiles, .laid";
	const there = (r) => r.width > 0 && r.height > 0 && r.top < innerHeight && r.bottom > 0;
	const seen = (e) => e.checkVisibility() && there(e.getBoundingClientRect()) && !e.closest(aside);
	const main = document.querySelector("main"), texts = document.createTreeWalker(main, NodeFilter.SHOW_TEXT);
	const controls = [...main.querySelectorAll("a[href], button, input:not([type=hidden]), select, textarea, summary")].filter(seen);
	let words = 0;
	for (let t = texts.nextNode(); t; t = texts.nextNode()) {
		const e = t.parentElement, lines = document.createRange();
		lines.selectNodeContents(t);
		if (seen(e) && !e.closest("option, .visually-hidden") && there(lines.getBoundingClientRect())) words += t.textContent.split(/\s+/).filter((word) => /[\p{L}\p{N}]/u.test(word)).length;
	}
	return [controls.length, words, document.documentElement.scrollHeight];
}`

// A page shows one thing to do, and the rest is a press away.
func TestPagesAreQuiet(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	s := h.open(1280, 800)
	s.signIn()
	for _, path := range []string{"/projects/{project}/print", "/projects/{project}/road", "/classes", "/", "/projects/new", "/projects/{project}?step=size",
		"/projects/{project}?step=grid", "/projects/{project}/students/{student}/report", "/projects/{project}/report", "/projects/{project}/wall"} {
		s.visit(h.address(path))
		got := s.page.MustEval(seenAtOnce)
		controls, words, high := got.Get("0").Int(), got.Get("1").Int(), got.Get("2").Int()
		said := fmt.Sprintf("%s: %d controls, %d words, %d pixels high", path, controls, words, high)
		t.Log(said)
		if controls > 16 || words > 140 || high > 1600 {
			t.Errorf("%s; want 16, 140 and 1600 at most", said)
		}
	}
}
