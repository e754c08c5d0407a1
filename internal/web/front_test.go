package web

import (
	"net/http"
	"testing"

	"github.com/go-rod/rod/lib/input"
)

// A teacher shows three boxes by keys: what one screen shows the projector shows too, the
// dots first, then a line at each press; a tablet leads it as well.
func TestDemonstration(t *testing.T) {
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
