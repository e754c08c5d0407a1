package web

import (
	"context"
	"fmt"
	"net/http"
	"regexp"
	"strings"
	"testing"
)

// A lesson's code opens the pages of its class for who types it and chooses a name,
// until it is ended; letters that no lesson has are slowed and say so.
func TestCodes(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c, tablet := h.signIn("owner@quay.example"), h.nobody()
	screen := h.address("/projects/{project}/links/screen")
	c.get(screen).want(http.StatusOK, "Make a code for this lesson")
	c.post(h.address("/projects/{project}/links/code"), form{"do": "make"}).location()
	page := c.get(screen).want(http.StatusOK, "Type at <b>"+h.url+"/go</b>")
	code := regexp.MustCompile(`The code: ([A-Z]{3} [A-Z]{3})"`).FindStringSubmatch(page.body)
	if code == nil || strings.ContainsAny(code[1], "ILOQV") {
		t.Fatalf("the code is %q; want six letters without look-alikes", code)
	}
	tablet.get("/go").want(http.StatusOK, "six letters on the screen")
	tablet.post("/go", form{"code": strings.ToLower(code[1])}).want(http.StatusOK, "Bryn")
	at := tablet.post("/go", form{"code": code[1], "student": fmt.Sprint(h.class.Students[0].ID)}).location()
	if at != "/s/"+h.link {
		t.Errorf("Ada's name leads to %q; want her one link", at)
	}
	tablet.get(at).want(http.StatusOK, "Ada")
	// A name that is not of this class opens nothing.
	tablet.post("/go", form{"code": code[1], "student": "999999"}).want(http.StatusOK, "Choose your name")
	for _, wrong := range []string{"", "ABCDEF", "abc", strings.Repeat("Z", 900), "<b>'"} {
		tablet.post("/go", form{"code": wrong}).want(http.StatusUnprocessableEntity, "No lesson has this code now")
	}
	c.post(h.address("/projects/{project}/links/code"), form{"do": "make"}).location()
	tablet.post("/go", form{"code": code[1]}).want(http.StatusUnprocessableEntity, "No lesson has this code")
	c.post(h.address("/projects/{project}/links/code"), form{"do": "end"}).location()
	c.get(screen).want(http.StatusOK, "Make a code for this lesson")
	// The codes to point at are the links on the covers.
	if got := strings.Count(page.body, "<svg"); got != len(h.class.Students) {
		t.Errorf("%d codes to point at; want one for each of %d students", got, len(h.class.Students))
	}
	c.get(screen+"?student="+fmt.Sprint(h.class.Students[1].ID)).want(http.StatusOK, "Point the tablet")
	c.get(screen+"?student=77777").want(http.StatusNotFound, "")
}

// Links lead where the school says, else where the teacher came from, which is said
// to be of no use where it is the machine's own name for itself.
func TestWhereLinksLead(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	screen, cover := h.address("/projects/{project}/links/screen"), h.address("/projects/{project}/print?chosen=1&kind=cover&paper=Letter&who=everyone")
	c.get(screen).want(http.StatusOK, "which no tablet finds")
	c.get(cover).want(http.StatusOK, "which no tablet finds")
	if a := c.get(h.address("/projects/{project}/print?chosen=1&kind=clean&paper=Letter")); a.says("which no tablet finds") {
		t.Error("pages without links are warned of")
	}
	place, err := h.db.SchoolOf(context.Background(), h.project.TeacherID)
	if err != nil {
		t.Fatal(err)
	}
	fields := form{"school": place.Name, "units": place.Units, "paper": place.Paper, "zone": place.Zone, "dates": place.Dates}
	for _, typed := range []string{"ftp://x", "draw", "https://draw.quay.example/go", "https://u:p@draw.quay.example", "javascript:alert(1)"} {
		fields["address"] = typed
		c.post("/school", fields).want(http.StatusUnprocessableEntity, "as a tablet")
	}
	for _, typed := range []string{"https://draw.quay.example/", "http://192.0.2.20:8080"} {
		fields["address"] = typed
		c.post("/school", fields).location()
		if a := c.get(screen+"?student="+fmt.Sprint(h.class.Students[0].ID)).want(http.StatusOK, strings.TrimRight(typed, "/")+"/s/"); a.says("which no tablet finds") {
			t.Errorf("%s: said to be found by no tablet", typed)
		}
	}
	c.get(screen+"?student="+fmt.Sprint(h.class.Students[0].ID)).want(http.StatusOK, `href="http://192.0.2.20:8080/s/`+h.link)
}
