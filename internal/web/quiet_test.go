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

// One button a screen is filled: the thing to do.
func TestOneFilledButtonAScreen(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.withPhoto(t)
	s := h.open(1280, 800)
	s.signIn()
	for _, path := range headed {
		if path == "/help/parts" {
			continue
		}
		s.visit(h.address(path))
		filled := s.page.MustEval(`() => [...document.querySelectorAll(".btn-zest, .btn-leaf")].filter((e) => e.checkVisibility() && !e.closest("dialog")
			&& e.getBoundingClientRect().top < innerHeight && e.getBoundingClientRect().bottom > 0).map((e) => e.textContent.trim())`).Arr()
		if len(filled) > 1 {
			t.Errorf("%s: %v are filled; want one", path, filled)
		}
	}
}

// No heading lies nearer to what is above it than to what is below it: it belongs to what follows. Nothing
// that is read or pressed lies over another.
func TestHeadingsBelongToWhatFollows(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	h.withPhoto(t)
	s := h.open(1280, 800)
	s.signIn()
	for _, path := range headed {
		s.visit(h.address(path))
		for _, wide := range []int{1280, 360, 768, 1920} {
			s.page.MustSetViewport(wide, 800, 1, false)
			s.page.MustEval(`() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)))`)
			for _, bad := range s.page.MustEval(`() => {
				const shown = (e) => e.checkVisibility() && !e.closest(".visually-hidden, dialog") && e.getClientRects().length > 0;
				const main = document.querySelector("main");
				const leaves = [...main.querySelectorAll("*")].filter((e) => shown(e) && !e.closest("h1, h2, h3, svg") && (e.matches("img, input, select, textarea, button, progress")
					|| [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim()))).concat([...main.querySelectorAll("svg")].filter(shown));
				const bad = [];
				for (const head of main.querySelectorAll("h2, h3")) {
					if (!shown(head) || head.closest("summary, .projector, .front") || head.matches(".card-drawn > :first-child, .card-drawn > :first-child > :first-child")) continue;
					const at = head.getBoundingClientRect(), beside = (r) => r.left < at.right && r.right > at.left;
					let above = Infinity, below = Infinity;
					for (const e of leaves) {
						const r = e.getBoundingClientRect();
						if (head.contains(e) || !beside(r)) continue;
						if (r.bottom <= at.top + 2) above = Math.min(above, at.top - r.bottom);
						if (r.top >= at.bottom - 2) below = Math.min(below, r.top - at.bottom);
					}
					if (above < below) bad.push(head.textContent.trim() + ": " + above.toFixed(0) + " above, " + below.toFixed(0) + " below");
				}
				const parts = [...main.querySelectorAll("button, a, input:not([type=radio], [type=checkbox]), select, textarea, p, h1, h2, h3, dt, dd, th, td, li, label, summary, img")].filter((e) => shown(e)
					&& e.getClientRects().length === 1 && !e.closest("svg, [aria-hidden], .sending") && getComputedStyle(e).position === "static" && !e.closest(".tile, .boxes, .handles"));
				const held = (e) => { // what of it is not cut off by what scrolls
					const r = e.getBoundingClientRect(), in_ = { left: r.left, right: r.right, top: r.top, bottom: r.bottom };
					for (let p = e.parentElement; p && p !== main; p = p.parentElement) if (getComputedStyle(p).overflow !== "visible" || getComputedStyle(p).position === "sticky") return null;
					return in_;
				};
				const boxes = parts.map((e) => [e, held(e)]).filter(([, r]) => r && r.right - r.left > 1 && r.bottom - r.top > 1);
				for (const [i, [a, p]] of boxes.entries()) for (const [b, q] of boxes.slice(i + 1)) {
					if (a.contains(b) || b.contains(a)) continue;
					const x = Math.min(p.right, q.right) - Math.max(p.left, q.left), y = Math.min(p.bottom, q.bottom) - Math.max(p.top, q.top);
					if (x > 3 && y > 6) bad.push("over each other: " + a.tagName + " " + a.textContent.trim().slice(0, 30) + " and " + b.tagName + " " + b.textContent.trim().slice(0, 30));
				}
				return bad.slice(0, 6);
			}`).Arr() {
				t.Errorf("%s at %d: %s", path, wide, bad.Str())
			}
		}
	}
}

// headed are the main pages that have headings.
var headed = []string{"/", "/help/parts", "/classes", "/library", "/printers", "/reckoner", "/projects/new", "/school", "/account", "/projects/{project}?step=picture", "/projects/{project}?step=compose",
	"/projects/{project}?step=size", "/projects/{project}?step=grid", "/projects/{project}/print", "/projects/{project}/wall", "/projects/{project}/road", "/projects/{project}/report",
	"/projects/{project}/students/{student}/report", "/projects/{project}/check", "/projects/{project}/finish", "/projects/{project}/materials", "/classes/{class}/calendar"}
