package web

import (
	"fmt"
	"net/http"
	"strings"
	"testing"
)

// Names that differ by a letter are all kept; two of one name are asked about
// and nobody is dropped.
func TestNamesAreKeptOrAskedAbout(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	add := h.address("/classes/{class}/roster")
	six := []string{"Zoe", "Zoé", "José", "Jose", "Straße", "Strasse", "ADA", "ada"}
	c.post(add, form{"students": strings.Join(six, "\n")}).location()
	page := c.get("/classes").want(http.StatusOK, "")
	for _, name := range six {
		if !strings.Contains(page.body, "<summary>"+name+" ") {
			t.Errorf("%s is not in the class", name)
		}
	}
	// What was not understood as it stands is shown first; so is who is here already.
	for text, say := range map[string]string{"Ana\nMoss\nAna": "“Ana” stands there twice", "Moss\nZoé": "<b>1</b> as they", "1. Moss Quay\n2. Bo Pier": "<li>Moss</li>",
		"Moss\n28": "“28” has no letters", "12;5\n13;6": "No name was found", "Moss\tleft\nBo\tright": "Read it another way"} {
		c.post(add, form{"students": text}).want(http.StatusOK, say)
	}
	c.post(add, form{"students": "1. Moss Quay", "whole": "1"}).want(http.StatusOK, "<li>Moss Quay</li>")
	c.post(add, form{"students": " "}).want(http.StatusUnprocessableEntity, "Paste names")
	if c.get("/classes").says("<summary>Moss") {
		t.Error("half of a list was kept")
	}
	c.post("/classes", form{"name": "9a\r\nsecond \xff line", "students": "Ana\nBo "}).location()
	c.get("/classes").want(http.StatusOK, "<h2>9a second line</h2>")
	// A class may begin with a file, and one that stayed empty is deleted for good.
	c.post("/classes", form{"name": "9 File"}, file{"list", "9.csv", []byte("Name;Vorname\nMeer;Jana\n")}).want(http.StatusOK, "<li>Jana</li>")
	classes, err := h.db.Classes(t.Context(), h.class.TeacherID)
	if err != nil {
		t.Fatal(err)
	}
	last := fmt.Sprintf("/classes/%d/remove", classes[len(classes)-1].ID)
	c.post(h.address("/classes/{class}/remove"), form{}).want(http.StatusUnprocessableEntity, "Put it away instead")
	c.post(last, form{}).location()
	c.post(last, form{}).want(http.StatusNotFound, "")
}

// A list shows what it would do before it does it, who is gone, and what each
// column was taken for; the teacher's word on a column is taken.
func TestListsAreShownFirst(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	list := h.address("/classes/{class}/roster")
	file1 := "Quarry Road;;\nNr;Pupil;Table\n1;Quay, Ada;Pier\n2;Marsh, Cleo;Pier\n3;Moor, Cleo;\nTotal;;\n"
	page := c.post(list, nil, file{"list", "7b.csv", []byte(file1)}).want(http.StatusOK, "<b>2</b> new, <b>1</b> changed, <b>0</b> as they\n    are, <b>1</b> not in the list")
	for _, say := range []string{"group Pier", "<li>Bryn</li>", "above the heads", "Cleo M 2"} {
		if !page.says(say) {
			t.Errorf("the list does not say %q", say)
		}
	}
	if page.says("<li>Quarry") || page.says("<li>Total") {
		t.Error("a title is taken for a student")
	}
	c.post(list, form{"students": "Called;Code\nAda;K1\nBryn;K2\n", "column": "name", "heads": "1"}).want(http.StatusOK, "<b>0</b> new, <b>0</b> changed, <b>2</b> as they")
	// Taken in, an id tells two of one name apart the next time.
	entries := `[{"name":"Ana","outside_id":"1"},{"name":"Ana","outside_id":"2"}]`
	for range 2 {
		c.post(list+"/keep", form{"entries": entries}).location()
	}
	class, err := h.db.Class(t.Context(), h.class.TeacherID, h.class.ID)
	if err != nil {
		t.Fatal(err)
	}
	var all []string
	for _, s := range class.Students {
		all = append(all, s.Name)
	}
	if got := fmt.Sprint(all); got != "[Ada Ana Ana 2 Bryn]" {
		t.Errorf("taken in twice: %s", got)
	}
}

// One press renews or ends the links of a class, and their last day is kept.
func TestLinksOfAClass(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, nobody := h.signIn("owner@quay.example"), h.nobody()
	links, own := h.address("/projects/{project}/links"), "/s/"+h.link
	c.get(links).want(http.StatusOK, "1 <span>link opens")
	c.post(links, form{"do": "until", "until": "2020-01-31"}).location()
	nobody.get(own).want(http.StatusNotFound, "opens nothing any more")
	c.post(links, form{"do": "until", "until": "31/1"}).want(http.StatusUnprocessableEntity, `value="31/1"`)
	c.post(links, form{"do": "until", "until": ""}).location()
	nobody.get(own).want(http.StatusOK, "Ada")
	c.post(links, form{"do": "renew"}).location()
	nobody.get(own).want(http.StatusNotFound, "opens nothing any more")
	c.get(links).want(http.StatusOK, "2 <span>links open")
	c.post(links, form{"do": "end"}).location()
	c.get(links).want(http.StatusOK, "0 <span>links open")
	c.post(links, form{"do": "dance"}).want(http.StatusUnprocessableEntity, "Choose what to do")
	feed := "/feed/" + h.feed + ".ics"
	nobody.get(feed).want(http.StatusOK, "BEGIN:VCALENDAR")
	c.post(h.address("/classes/{class}/calendar/feed"), nil).location()
	nobody.get(feed).want(http.StatusNotFound, "")
}

// A box that there is not is said on the projector; a stage marked by mistake is
// taken back; a student who ticks is drawing, whatever nobody marked.
func TestStagesAtTheWall(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, nobody := h.signIn("owner@quay.example"), h.nobody()
	c.get(h.address("/projects/{project}/projector?box=Z99")).want(http.StatusOK, "no box Z99")
	c.post(h.address("/projects/{project}/begins"), form{"stage": "pick"}).location()
	stage := h.address("/projects/{project}/students/{student}/stage")
	c.post(stage, form{"stage": "pick"}).location()
	wall := h.address("/projects/{project}/wall?student={student}")
	c.get(wall).want(http.StatusOK, "“Pick the picture” is not done after all")
	c.post(stage, form{"stage": "pick", "on": "0"}).location()
	if c.get(wall).says("is not done after all") {
		t.Error("a stage that was taken back can be taken back again")
	}
	nobody.get("/s/"+h.link).want(http.StatusOK, "Pick the picture")
	nobody.post("/s/"+h.link+"/ticks", form{"label": "A1", "on": "1"}).location()
	nobody.get("/s/"+h.link).want(http.StatusOK, "Mark up the sheet")
	c.get(wall).want(http.StatusOK, "3 of 8: Mark up the sheet")
	c.get(h.address("/projects/{project}/wall/tiles?student={student}")).want(http.StatusOK, `id="first-to"`)
}

// HEAD answers as GET does, without a body, and a student's trouble leads to no
// sign-in of teachers.
func TestHeadAndDeadLinks(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	req, err := http.NewRequest(http.MethodHead, h.url+"/signin", nil)
	if err != nil {
		t.Fatal(err)
	}
	answer, err := http.DefaultClient.Do(req)
	if err != nil || answer.StatusCode != http.StatusOK {
		t.Errorf("HEAD /signin: %v, %v", answer, err)
	}
	dead := h.nobody().get("/s/"+strings.Repeat("a", 26)).want(http.StatusNotFound, "Ask your teacher")
	if strings.Contains(dead.body, `href="/"`) || strings.Contains(dead.body, "/signin") {
		t.Error("a dead link offers the teachers' pages")
	}
}
