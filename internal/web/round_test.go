package web

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"testing"
	"time"
)

// What is done for one is done for many: a stage for everybody in one request, taken back
// by one more; those to whom it is closed are left out and counted.
func TestStageForMany(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	c.fragment = true
	all, n := h.address("/projects/{project}/stage"), len(h.class.Students)
	c.post(all, form{"stage": "compose"}).want(http.StatusOK, fmt.Sprintf("%d left out", n)) // nobody has a picture yet
	began := time.Now()
	said := c.post(all, form{"stage": "pick"}).want(http.StatusOK, fmt.Sprintf("is done for %d.", n)).body
	t.Logf("one request for %d: %s", n, time.Since(began))
	c.post(all, form{"stage": "pick"}).want(http.StatusOK, "is done for 0.")
	if got := strings.Count(said, `name="student"`); got != n {
		t.Errorf("%d students can be taken back; want %d", got, n)
	}
	one := fmt.Sprint(h.class.Students[0].ID)
	c.post(all, form{"stage": "pick", "on": "0", "student": one}).want(http.StatusOK, "is not done after all for 1.")
	state, err := h.db.RoadState(context.Background(), h.project.ID, 0)
	if err != nil || state.Done[h.class.Students[0].ID]["pick"] || !state.Done[h.class.Students[1].ID]["pick"] {
		t.Errorf("done are %v, %v", state.Done, err)
	}
	for _, wrong := range []form{{"stage": "none"}, {"stage": "pick", "team": "nowhere"}, {"stage": "pick", "student": "999999"}} {
		c.post(all, wrong).want(http.StatusUnprocessableEntity, "Choose")
	}
}

// A round through the class on a phone: one press a student, the next one's turn comes by
// itself.
func TestRound(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	for _, stage := range []string{"pick", "compose", "markup"} {
		c.post(h.address("/projects/{project}/stage"), form{"stage": stage}).location()
	}
	s := h.open(390, 844)
	s.signIn()
	s.visit(h.address("/projects/{project}/round"))
	for i, student := range h.class.Students {
		s.see("h1", student.Name)
		verdict := s.page.MustElement(`[name="verdict"][value="passed"]`)
		if high := verdict.MustShape().Box().Height; high < 48 {
			t.Errorf("“Passed” is %.0f pixels high", high)
		}
		if i == 0 {
			verdict = s.page.MustElement(`[value="again"]`)
		}
		verdict.MustClick()
	}
	s.see(".round", "Draw box by box") // the last one's stage is passed
	state, err := h.db.RoadState(context.Background(), h.project.ID, 0)
	if err != nil {
		t.Fatal(err)
	}
	for i, student := range h.class.Students {
		if want, got := map[bool]string{true: "again", false: "passed"}[i == 0], state.VerdictsOf(student.ID)["markup"]; string(got) != want {
			t.Errorf("%s hears %q; want %q", student.Name, got, want)
		}
	}
}
