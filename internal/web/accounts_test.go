package web

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"html"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"
	"time"

	"zestysketch/internal/store"
)

// withAccounts returns a house and a provider of accounts that it knows.
func withAccounts(t *testing.T) (*house, *elsewhere, store.IdentityProvider) {
	t.Helper()
	h := newHouse(t)
	e := newElsewhere(t, h.url)
	school := must(h.db.Schools(context.Background()))[0]
	p, err := h.db.KeepIdentityProvider(context.Background(), store.IdentityProvider{SchoolID: school.ID, Name: "Quay accounts", Issuer: e.URL, ClientID: "zesty",
		Secret: "a secret", Domains: "staff.quay.example", AdminClaim: "groups", AdminValue: "drawing-admins"})
	if err != nil {
		t.Fatal(err)
	}
	return h, e, p
}

// goThere signs in at the provider as a browser does, and returns the address that it is sent back to.
func (c *client) goThere(e *elsewhere, p store.IdentityProvider, name string) string {
	c.t.Helper()
	return c.at(e, c.get(fmt.Sprintf("/signin/with/%d?next=/classes", p.ID)).location(), name)
}

// at goes on from the provider's own page.
func (c *client) at(e *elsewhere, there, name string) string {
	c.t.Helper()
	follow := func(r *http.Response, err error) string {
		c.t.Helper()
		if err != nil {
			c.t.Fatal(err)
		}
		r.Body.Close()
		at, err := r.Location()
		if err != nil {
			c.t.Fatalf("the provider answers %d without sending on", r.StatusCode)
		}
		return at.String()
	}
	login, err := url.Parse(follow(c.http.Get(there)))
	if err != nil {
		c.t.Fatal(err)
	}
	id := login.Query().Get("authRequestID")
	on := follow(c.http.PostForm(e.URL+"/login/username", url.Values{"id": {id}, "username": {name}, "password": {herPassword}}))
	return strings.TrimPrefix(follow(c.http.Get(on)), c.url)
}

// Whose account it is: by e-mail the first time, by subject ever after; who is invited or of a domain that joins
// is made, nobody else; nobody becomes an administrator but by the claim.
func TestAccountsElsewhere(t *testing.T) {
	t.Parallel()
	h, e, p := withAccounts(t)
	defer h.errors.Reset()
	e.account("owner", "Owner@quay.example", true)
	e.account("new", "new@quay.example", true)
	e.account("mole", "mole@staff.quay.example", true)
	e.account("stranger", "stranger@elsewhere.example", true)
	e.account("unconfirmed", "other@quay.example", false)
	e.account("nameless", "", true)

	for _, who := range []struct{ name, here string }{{"owner", "Owner"}, {"new", "New"}, {"mole", "mole Mole"}} {
		for range 2 {
			c := h.nobody()
			back := c.goThere(e, p, who.name)
			began := time.Now()
			in := c.get(back)
			t.Logf("%s is in %v after coming back, the provider's own answers among it", who.name, time.Since(began).Round(time.Millisecond))
			if at := in.location(); at != "/classes" {
				t.Fatalf("%s is led to %q", who.name, at)
			}
			c.get("/account").want(http.StatusOK, who.here)
			if who.name != "owner" {
				c.get("/account").want(http.StatusOK, "have no password here")
			}
			e.account("owner", "renamed@quay.example", true) // by subject, not by e-mail
		}
	}
	for name, say := range map[string]string{"stranger": "Nobody here has the e-mail stranger@elsewhere.example", "unconfirmed": "has not confirmed that other@quay.example",
		"nameless": "does not say which e-mail"} {
		c := h.nobody()
		c.get(c.goThere(e, p, name)).want(http.StatusUnprocessableEntity, say)
		c.get("/classes").location()
	}
	c := h.nobody()
	c.get(c.goThere(e, p, "mole"))
	c.get("/school").want(http.StatusNotFound)
	e.set(map[string]any{"groups": []any{"cooks", "drawing-admins"}}, 0, false)
	c = h.nobody()
	c.get(c.goThere(e, p, "mole"))
	c.get("/school/deeds?kind=sign-in").want(http.StatusOK, "signed in with Quay accounts", "mole Mole")
	c.post("/signout", nil).want(http.StatusOK, "Sign out of Quay accounts", e.URL+"/end_session")
	c.get("/classes").location()
}

// What the provider, the browser or somebody between them got wrong lets nobody in, and is said.
func TestAccountsThatAreWrong(t *testing.T) {
	t.Parallel()
	h, e, p := withAccounts(t)
	defer h.errors.Reset()
	e.account("owner", "owner@quay.example", true)
	in := func(c *client) answer { return c.get(c.goThere(e, p, "owner")) }
	for name, one := range map[string]struct {
		claims map[string]any
		ahead  time.Duration
		say    string
	}{
		"another's token": {map[string]any{"aud": "another"}, 0, "not for this program"},
		"another nonce":   {map[string]any{"nonce": "another"}, 0, "answered another question"},
		"another issuer":  {map[string]any{"iss": "https://another.example"}, 0, "not for this program"},
		"over":            {map[string]any{"exp": time.Now().Add(-time.Hour).Unix()}, 0, "was over at"},
		"a clock ahead":   {nil, 10 * time.Minute, "differ by 10 minutes"},
		"a clock behind":  {nil, -10 * time.Minute, "differ by 10 minutes"},
	} {
		e.set(one.claims, one.ahead, false)
		c := h.nobody()
		a := in(c).want(http.StatusUnprocessableEntity, one.say)
		if c.get("/classes").status == http.StatusOK {
			t.Errorf("%s: let in; %s", name, a.what)
		}
	}
	e.set(nil, 0, false)

	c := h.nobody()
	back := c.goThere(e, p, "owner")
	h.nobody().get(back).want(http.StatusUnprocessableEntity, "Begin again") // another browser
	if at := c.get(back).location(); at != "/classes" {
		t.Fatalf("leads to %q", at)
	}
	c.get(back).want(http.StatusUnprocessableEntity, "used already")
	other := h.nobody()
	other.get(fmt.Sprintf("/signin/with/%d", p.ID)).location()
	other.get(back).want(http.StatusUnprocessableEntity, "Begin again") // its own errand, another's answer

	e.turn() // a key of today
	if at := in(h.nobody()).location(); at != "/classes" {
		t.Errorf("after the keys were changed: %q", at)
	}
	e.set(nil, 0, true)
	late := h.nobody()
	there := late.get(fmt.Sprintf("/signin/with/%d", p.ID)).location() // what it publishes is known
	state, _ := url.Parse(there)
	late.get("/signin/back?code=x&state="+state.Query().Get("state")).want(http.StatusUnprocessableEntity, "does not answer")
	late.get(fmt.Sprintf("/signin/with/%d", p.ID)).location()
	e.set(nil, 0, false)
	h.nobody().get("/signin/with/999999").want(http.StatusNotFound)

	owner := h.signIn("owner@quay.example")
	t2, err := h.db.TeacherByAddress(context.Background(), "other@quay.example")
	if err != nil {
		t.Fatal(err)
	}
	e.account("other", "other@quay.example", true)
	c = h.nobody()
	c.get(c.goThere(e, p, "other")).location()
	owner.post(fmt.Sprintf("/school/people/%d/disable", t2.ID), form{"on": "1"}).location()
	if at := c.get("/classes").location(); !strings.HasPrefix(at, "/signin") {
		t.Errorf("who may sign in no more is let to %q", at)
	}
	c.get(c.goThere(e, p, "other")).want(http.StatusUnprocessableEntity, "may not sign in now")
}

// An administrator writes the accounts, sees what is wrong with them, tries one, and ends passwords once they
// came by one themselves; whoever keeps the machine lets them in again.
func TestAccountsOfASchool(t *testing.T) {
	t.Parallel()
	h, e, p := withAccounts(t)
	defer h.errors.Reset()
	e.account("owner", "owner@quay.example", true)
	c := h.signIn("owner@quay.example")
	look := fmt.Sprintf("/school/accounts/%d/look", p.ID)
	c.get(look).want(http.StatusOK, "Quay accounts answers", "clock and ours agree", "keys can be read", "knows this program")
	e.set(nil, 10*time.Minute, false)
	c.get(look).want(http.StatusOK, "differ by 10 minutes")
	e.set(nil, 0, true)
	c.get(look).want(http.StatusOK, "does not answer")
	e.set(nil, 0, false)

	kept := form{"name": "Typed", "issuer": e.URL, "client": "nobody", "secret": "x"}
	at := c.post("/school/accounts", kept).location()
	c.get(at).want(http.StatusOK, "refuses this program", h.url+"/signin/back")
	kept["issuer"] = strings.Replace(e.URL, "127.0.0.1", "localhost", 1)
	c.get(c.post("/school/accounts", kept).location()).want(http.StatusOK, "somebody answers who is called "+e.URL)
	kept["issuer"] = e.URL + "/nowhere"
	c.get(c.post("/school/accounts", kept).location()).want(http.StatusOK, "there is no OpenID Connect")
	for field, bad := range map[string]string{"issuer": "http://accounts.quay.example", "name": "", "client": "", "domains": "@quay", "admin": "groups"} {
		wrong := form{"name": "N", "issuer": e.URL, "client": "c", field: bad}
		c.post("/school/accounts", wrong).want(http.StatusUnprocessableEntity, "anted")
	}

	trial := func(who string) answer {
		return c.get(c.at(e, c.get(fmt.Sprintf("/school/accounts/%d/trial", p.ID)).location(), who))
	}
	trial("owner").want(http.StatusOK, "would sign in as Owner", "confirmed by Quay accounts", "no: groups is not drawing-admins")
	e.account("mole", "mole@staff.quay.example", true)
	trial("mole").want(http.StatusOK, "a teacher who would be made")
	e.account("unconfirmed", "other@quay.example", false)
	trial("unconfirmed").want(http.StatusOK, "has not confirmed")
	if _, err := h.db.TeacherByAddress(context.Background(), "mole@staff.quay.example"); err == nil {
		t.Error("a trial made a teacher")
	}

	c.post("/school/accounts/only", form{"on": "1"}).want(http.StatusUnprocessableEntity, "Sign in by such an account first")
	by := h.nobody()
	by.get(by.goThere(e, p, "owner")).location()
	by.post("/school/accounts/only", form{"on": "1"}).location()
	h.nobody().post("/signin", form{"email": "owner@quay.example", "password": password}).want(http.StatusForbidden, "school's own accounts")
	h.nobody().get("/join/"+h.letters).want(http.StatusForbidden, "You are invited")
	by.post(fmt.Sprintf("/school/accounts/%d/remove", p.ID), nil).location()
	for _, left := range must(h.db.IdentityProviders(context.Background(), p.SchoolID)) {
		by.post(fmt.Sprintf("/school/accounts/%d/remove", left.ID), nil).location()
	}
	h.signIn("owner@quay.example") // with the last accounts gone, by a password
}

// In the browser: from the door to the provider's own page and back, and out again at both.
func TestAccountInTheBrowser(t *testing.T) {
	t.Parallel()
	h, e, _ := withAccounts(t)
	e.account("owner", "owner@quay.example", true)
	s := h.open(1280, 800)
	s.visit("/signin")
	s.press("a", "Sign in with Quay accounts")
	s.page.MustElement("#username").MustInput("owner")
	s.page.MustElement("#password").MustInput(herPassword)
	s.press("button", "Login")
	s.see("h1", "Today")
	s.press("button", "Sign out")
	s.press("a", "Sign out of Quay accounts")
	s.see("h1", "Good to see you")
}

func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}

// A list of the whole school, as its system writes it, is shown as differences and taken in where it is ticked.
func TestListsOfTheSchool(t *testing.T) {
	t.Parallel()
	h := newHouse(t)
	c := h.signIn("owner@quay.example")
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range map[string]string{
		"users.csv":       "sourcedId,status,role,givenName,familyName,email\nt,active,teacher,O,O,owner@quay.example\ns1,active,student,Ada,Quay,\ns2,active,student,Cleo,Pier,\n",
		"classes.csv":     "sourcedId,status,title\nc1,active,7 Quay\nc2,active,9 Nobody\n",
		"enrollments.csv": "sourcedId,status,classSourcedId,userSourcedId,role\n1,active,c1,t,teacher\n2,active,c1,s1,student\n3,active,c1,s2,student\n",
	} {
		w := must(z.Create(name))
		must(w.Write([]byte(text)))
	}
	z.Close()
	page := c.post("/school/lists", nil, file{"list", "term.zip", b.Bytes()}).want(http.StatusOK, "Ada is who the list means", "Cleo joins", "no teacher here", "9 Nobody")
	change := html.UnescapeString(regexp.MustCompile(`value="([^"]*Cleo[^"]*)" checked`).FindStringSubmatch(page.body)[1])
	if at := c.post("/school/lists/take", form{"change": change}).location(); at != "/school/lists?done=1" {
		t.Fatalf("leads to %q", at)
	}
	c.get("/school/lists?done=1").want(http.StatusOK, "1 change made")
	c.get("/classes").want(http.StatusOK, "Cleo")
	c.post("/school/lists", nil, file{"list", "x.zip", []byte("PK\x03\x04")}).want(http.StatusUnprocessableEntity, "no list of a school")
	c.post("/school/lists/take", form{"change": "{"}).want(http.StatusUnprocessableEntity, "could not be read")
	c.post("/school/lists/take", form{"change": `{"kind":"leave","class":999999,"teacher":999999}`}).want(http.StatusUnprocessableEntity, "nothing was taken in")
}
