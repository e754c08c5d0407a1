package web

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"net/http"
	"strings"
	"testing"
)

// A teacher's name, address and password are their own to change: the old
// password is asked for, common ones are not taken, and a new one ends every
// other session.
func TestAccount(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	here, there := h.signIn("owner@quay.example"), h.signIn("owner@quay.example")
	here.get("/account").want(http.StatusOK, "owner@quay.example")
	for _, bad := range []struct{ name, email, say string }{
		{"", "owner@quay.example", "anted a name"}, {"Owner", "nowhere", "such as name@school.example"},
		{"Owner", "other@quay.example", "Somebody signs in with this"},
		{strings.Repeat("x", 81), "a@b", "anted a name"},
	} {
		here.post("/account", form{"name": bad.name, "email": bad.email, "old": password}).want(http.StatusUnprocessableEntity, bad.say)
	}
	if at := here.post("/account", form{"name": "Ms Pier", "email": "Pier@quay.example", "old": password}).location(); at != "/account?done=person" {
		t.Errorf("leads to %q", at)
	}
	here.get("/").want(http.StatusOK, "Ms Pier")
	for _, bad := range []struct{ old, next, again, say string }{
		{"wrong", "harbour kettle lantern", "harbour kettle lantern", "not the password of now"}, {password, "short", "short", "at least 10 letters"},
		{password, "password123", "password123", "tried first"}, {password, "qwertyuiop", "qwertyuiop", "tried first"}, {password, "harbour kettle lantern", "harbour kettle", "not alike"},
	} {
		here.post("/account/password", form{"old": bad.old, "new": bad.next, "again": bad.again}).want(http.StatusUnprocessableEntity, bad.say)
	}
	if at := here.post("/account/password", form{"old": password, "new": "harbour kettle lantern", "again": "harbour kettle lantern"}).location(); at != "/account?done=password" {
		t.Errorf("leads to %q", at)
	}
	here.get("/classes").want(http.StatusOK, "7 Quay")
	if at := there.get("/classes").location(); !strings.HasPrefix(at, "/signin") {
		t.Errorf("the other session leads to %q after the password was changed", at)
	}
	h.nobody().post("/signin", form{"email": "pier@quay.example", "password": password}).want(http.StatusUnprocessableEntity, "do not go together")
	again := h.nobody()
	if at := again.post("/signin", form{"email": "pier@quay.example", "password": "harbour kettle lantern"}).location(); at != "/" {
		t.Fatalf("the new password leads to %q", at)
	}
	if at := here.post("/account/everywhere", nil).location(); at != "/account?done=everywhere" {
		t.Errorf("leads to %q", at)
	}
	here.get("/account").want(http.StatusOK, "")
	if at := again.get("/account").location(); !strings.HasPrefix(at, "/signin") {
		t.Errorf("signed out everywhere, another browser leads to %q", at)
	}
}

// A student is renamed, leaves and comes back, is moved, handed out and
// forgotten; their tablet opens nothing then.
func TestAStudentsOwnPage(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, ctx, ada := h.signIn("owner@quay.example"), context.Background(), h.class.Students[0].ID
	page := fmt.Sprintf("/students/%d", ada)
	c.get(page).want(http.StatusOK, "Forget Ada")
	c.post(page+"/name", form{"name": "Bryn"}).want(http.StatusUnprocessableEntity, "There is a “Bryn”")
	c.post(page+"/name", form{"name": ""}).want(http.StatusUnprocessableEntity, "Write a first name")
	c.post(page+"/name", form{"name": "Ada K"}).location()
	wall := h.address("/projects/{project}/wall")
	c.get(wall).want(http.StatusOK, "Ada K")
	c.post(page+"/leave", nil).location()
	if c.get(wall).says("Ada K") {
		t.Error("who has left is on the wall")
	}
	c.get("/classes").want(http.StatusOK, "Left:")
	h.nobody().get("/s/"+h.link).want(http.StatusNotFound, "")
	c.post(page+"/leave", form{"back": "1"}).location()
	c.get(wall).want(http.StatusOK, "Ada K")

	other, err := h.db.AddClass(ctx, h.project.TeacherID, "8 Pier")
	if err != nil {
		t.Fatal(err)
	}
	c.post(page+"/move", form{"to": "x"}).want(http.StatusUnprocessableEntity, "Choose the class")
	at := c.post(page+"/move", form{"to": fmt.Sprint(other.ID), "work": "stays"}).location()
	c.get(at).want(http.StatusOK, "8 Pier")
	if at == page {
		t.Error("without their work nobody new began")
	}
	c.post(page+"/leave", form{"back": "1"}).location()

	a := c.get(page+"/export.zip").want(http.StatusOK, "")
	if z, err := zip.NewReader(bytes.NewReader([]byte(a.body)), int64(len(a.body))); err != nil || len(z.File) < 2 {
		t.Errorf("a ZIP of %d bytes, %v", len(a.body), err)
	}
	h.link, err = h.db.Link(ctx, h.project, ada)
	if err != nil {
		t.Fatal(err)
	}
	c.post(page+"/forget", form{"sure": "Ada"}).want(http.StatusUnprocessableEntity, "Write “Ada K”")
	c.post(page+"/forget", form{"sure": "Ada K"}).location()
	c.get(page).want(http.StatusNotFound, "")
	h.nobody().post("/s/"+h.link+"/ticks", form{"label": "A1", "on": "1"}).want(http.StatusNotFound, "opens nothing any more")
	if c.get(wall).says("Ada K") {
		t.Error("who was forgotten is on the wall")
	}
	c.post(fmt.Sprintf("/students/%d/merge", h.class.Students[1].ID), form{"into": "0"}).want(http.StatusUnprocessableEntity, "same person")
	c.post(fmt.Sprintf("/notes/%d", h.note.ID), form{"words": "x"}).want(http.StatusNotFound, "") // it was of her
}

// A project is put away, copied, deleted and brought back; a class is renamed and
// put away.
func TestShelves(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, project := h.signIn("owner@quay.example"), h.address("/projects/{project}")
	c.get("/shelf").want(http.StatusOK, "Nothing is put away")
	c.post(project+"/away", nil).location()
	if c.get("/").says("Harbour light") {
		t.Error("what is put away is on Today")
	}
	c.get("/shelf").want(http.StatusOK, "Harbour light")
	c.get(project).want(http.StatusOK, "Harbour light")
	at := c.post(project+"/copy", form{"class": "none"}).location()
	c.get(at+"?step=grid").want(http.StatusOK, "boxes")
	c.post(project+"/back", nil).location()
	if c.get("/").says("Another project has this name too") {
		t.Error("a copy has another name")
	}
	c.post("/projects", form{"name": "Harbour light"}, file{"picture", "light.png", h.sample.Picture}).location()
	c.get("/").want(http.StatusOK, "Another project has this name too")
	if at := c.post(project+"/delete", nil).location(); at != "/shelf" {
		t.Errorf("deleting leads to %q", at)
	}
	c.get(project).want(http.StatusNotFound, "")
	c.get(h.address("/projects/{project}/wall")).want(http.StatusNotFound, "")
	h.nobody().get("/s/"+h.link).want(http.StatusNotFound, "")
	c.get("/shelf").want(http.StatusOK, "for 30 days")
	c.post(project+"/back", nil).location()
	c.get("/").want(http.StatusOK, "Harbour light")

	class := h.address("/classes/{class}")
	c.post(class+"/name", form{"name": " "}).want(http.StatusUnprocessableEntity, "Write a name")
	c.post(class+"/name", form{"name": "8 Quay"}).location()
	c.post("/classes", form{"name": "8 Quay"}).location()
	c.get("/classes").want(http.StatusOK, "Another class has this name too")
	c.post(class+"/away", nil).location()
	if page := c.get("/classes"); page.says("Another class has this name too") || !page.says("Put away") {
		t.Error("a class that is put away is among the others")
	}
	c.post(class+"/away", form{"back": "1"}).location()
	c.get("/classes").want(http.StatusOK, "Another class has this name too")
}
