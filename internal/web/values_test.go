package web

import (
	"net/http"
	"strings"
	"testing"

	"zestysketch/internal/core/grid"
)

// A value map as the teacher asks for it, its files, and wishes that cannot be
// met: each is told on the page, with the form as it was filled in.
func TestValueMaps(t *testing.T) {
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	at := h.address("/projects/{project}/values")
	c.get(at).want(http.StatusOK, "6B")
	c.get(at+"?steps=3&rule=light&least=40&neck=2&style=filled").want(http.StatusOK, "areas at")
	if a := c.get(at+"/map.svg?steps=3&grid=on").want(http.StatusOK, "<svg"); !strings.Contains(a.body, "A1") && !strings.Contains(a.body, "<path") {
		t.Errorf("the map without a path: %.200s", a.body)
	}
	c.get(at+"/map.svg?steps=3&save=1").want(http.StatusOK, `<g id="step-3"`)
	c.get(at+"/map.pdf?steps=3").want(http.StatusOK, "%PDF-")
	c.get(at+"/map.png?steps=3").want(http.StatusOK, "PNG")
	for query, say := range map[string]string{
		"steps=9": "Choose 2 to 7 steps", "steps=x": "Choose 2 to 7 steps", "least=big": "square millimetres", "least=-1": "square millimetres", "neck=99": "0 to 50",
		"rule=moon": "how the tones are parted", "style=dots": "outlines, filled",
	} {
		c.get(at+"?"+query).want(http.StatusUnprocessableEntity, say)
		c.get(at+"/map.svg?"+query).want(http.StatusUnprocessableEntity, say)
	}
	if a := c.get(at+"?steps=9&least=33").want(http.StatusUnprocessableEntity, "Choose 2 to 7 steps"); !strings.Contains(a.body, `value="33"`) {
		t.Error("what was typed beside the mistake is lost")
	}
	// Seven steps of a line drawing are more than it has.
	c.get(at+"?steps=7&rule=area&least=400").want(http.StatusOK, "cover nothing")
	bare, _, _ := strings.Cut(c.post("/projects", form{"name": "Bare"}, file{"picture", "light.png", h.sample.Picture}).location(), "?")
	c.get(bare+"/values").want(http.StatusUnprocessableEntity, "Keep the plan first")
	// A mirrored, turned frame is mapped as it will be drawn.
	typed := h.sample.Plan.Typed
	typed.Frame = "875,1100 900x1100 12 mirrored"
	if _, err := grid.Make(typed); err == nil {
		c.post(h.address("/projects/{project}/plan"), planForm(typed, 1))
	}
	c.get(at).want(http.StatusOK, "areas at")
}
