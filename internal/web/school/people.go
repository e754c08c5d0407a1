package school

import (
	"errors"
	"net/http"
	"strconv"
	"time"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// peopleView is the page of people.
type peopleView struct {
	Tabs    kit.Tabs
	Me      uint64
	People  []personView
	Invited []invitedView
	Link    string // that was made just now, and for whom
	For     string
	Reset   bool
}

type personView struct {
	store.Person
	Seen   string // when they were here last, empty where it is not known
	Has    []store.Class
	Others []store.Person // who may take their classes
}

type invitedView struct {
	store.Invitation
	Until string
}

func (a area) people(w http.ResponseWriter, r *http.Request, v peopleView) error {
	return pages.Whole(w, r, "people.html", "People", v)
}

func (a area) peopleView(r *http.Request) (peopleView, error) {
	me, clock := kit.Teacher(r), kit.Clock(r)
	v := peopleView{Tabs: tabs("/school/people"), Me: me.ID}
	list, err := a.Store.People(r.Context(), me.SchoolID)
	if err != nil {
		return v, err
	}
	has, err := a.Store.ClassesOfSchool(r.Context(), me.SchoolID)
	if err != nil {
		return v, err
	}
	for _, p := range list {
		one := personView{Person: p, Has: has[p.ID]}
		if p.SeenAt != nil {
			one.Seen = clock.Stamp(*p.SeenAt)
		}
		for _, o := range list {
			if o.ID != p.ID && o.DisabledAt == nil {
				one.Others = append(one.Others, o)
			}
		}
		v.People = append(v.People, one)
	}
	invited, err := a.Store.Invitations(r.Context(), me.SchoolID)
	for _, inv := range invited {
		v.Invited = append(v.Invited, invitedView{inv, clock.Short(inv.ExpiresAt)})
	}
	return v, err
}

// link shows a link that was made, once: it is kept nowhere.
func (a area) link(w http.ResponseWriter, r *http.Request, letters, who string, reset bool) error {
	v, err := a.peopleView(r)
	if err != nil {
		return err
	}
	v.Link, v.For, v.Reset = a.Base(r)+"/join/"+letters, who, reset
	return pages.Whole(w, r, "people.html", "People", v)
}

func (a area) invite(w http.ResponseWriter, r *http.Request) error {
	me := kit.Teacher(r)
	name, email := kit.Tidy(r.FormValue("name")), kit.Tidy(r.FormValue("email"))
	if err := kit.CheckPerson(name, email); err != nil {
		return err
	}
	if _, err := a.Store.TeacherByAddress(r.Context(), email); err == nil {
		return kit.AskAt("email", "Somebody signs in with this address already.")
	} else if !errors.Is(err, store.ErrNotFound) {
		return err
	}
	letters, err := a.Store.Invite(r.Context(), store.Invitation{Kind: store.ToJoin, SchoolID: &me.SchoolID, ByID: &me.ID, Name: name, Email: email, Admin: r.FormValue("admin") == "1"})
	if err != nil {
		return err
	}
	return a.link(w, r, letters, name, false)
}

func (a area) withdraw(w http.ResponseWriter, r *http.Request) error {
	if err := a.Store.Withdraw(r.Context(), kit.Teacher(r).SchoolID, r.FormValue("email")); err != nil {
		return err
	}
	return kit.Go(w, r, "/school/people")
}

func (a area) reset(w http.ResponseWriter, r *http.Request, t store.Teacher) (err error) {
	if t.DisabledAt != nil {
		return kit.Ask("%s may not sign in now. Let them in again first.", t.Name)
	}
	me := kit.Teacher(r).ID
	letters, err := a.Store.Invite(r.Context(), store.Invitation{Kind: store.ToReset, TeacherID: &t.ID, ByID: &me, Name: t.Name, Email: t.Email})
	if err != nil {
		return err
	}
	return a.link(w, r, letters, t.Name, true)
}

// hand gives a class of a colleague's, or everything, to another.
func (a area) hand(w http.ResponseWriter, r *http.Request, from store.Teacher) (err error) {
	to, err := strconv.ParseUint(r.FormValue("to"), 10, 63)
	if err != nil {
		return kit.AskAt("to", "Choose who takes them.")
	}
	class, err := strconv.ParseUint(r.FormValue("class"), 10, 63) // 0 is everything
	if err != nil {
		return kit.AskAt("class", "Choose a class, or everything.")
	}
	if err := a.Store.HandOn(r.Context(), from.SchoolID, from.ID, to, class); err != nil {
		return err
	}
	return kit.Go(w, r, "/school/people")
}

// openedDays is how long a class that was opened stays so (ours): a demand is answered within it.
const openedDays = 14

// open lets an administrator at a class of a colleague who is away. The reason is written down, and shown to
// the colleague.
func (a area) open(w http.ResponseWriter, r *http.Request, colleague store.Teacher) error {
	class, err := strconv.ParseUint(r.FormValue("class"), 10, 63)
	if err != nil {
		return kit.AskAt("class", "Choose a class.")
	}
	reason := kit.Tidy(r.FormValue("reason"))
	if n := len([]rune(reason)); n < shortestReason || n > store.LongestReason {
		return kit.AskAt("reason", "Write why, in %d to %d letters: %s is shown it.", shortestReason, store.LongestReason, colleague.Name)
	}
	me := kit.Teacher(r)
	opened, err := a.Store.OpenClass(r.Context(), me, class, reason, kit.Clock(r).At(time.Now()).AddDate(0, 0, openedDays))
	if err != nil {
		return err
	}
	err = a.Store.Audit(r.Context(), store.AuditEntry{SchoolID: me.SchoolID, TeacherID: &me.ID, Who: me.Name, Kind: store.Changed, Words: "opened it because: " + reason, ClassID: opened.ID})
	if err != nil {
		return err
	}
	return kit.Go(w, r, "/classes")
}

// shortestReason is how much a reason says at least, in letters (ours).
const shortestReason = 10

// auditView is the page of who did what.
type auditView struct {
	Tabs    kit.Tabs
	People  []store.Person
	Of      uint64
	Kind    store.AuditKind
	Words   string
	Entries []entryView
	Older   uint64 // where the next page begins, 0 for none
}

type entryView struct {
	store.ListedEntry
	When string
}

// shownEntries are on one page, and mostEntries in one file.
const shownEntries, mostEntries = 100, 20_000

func (a area) auditLog(w http.ResponseWriter, r *http.Request) error {
	q := r.URL.Query()
	v := auditView{Tabs: tabs("/school/deeds"), Words: kit.Tidy(q.Get("q"))}
	v.Of, _ = strconv.ParseUint(q.Get("of"), 10, 63)
	before, _ := strconv.ParseUint(q.Get("before"), 10, 63)
	school := kit.Teacher(r).SchoolID
	v.Kind = store.AuditKind(q.Get("kind"))
	list, err := a.Store.AuditLog(r.Context(), school, store.AuditWish{Before: before, Teacher: v.Of, Kind: v.Kind, Words: v.Words, Most: shownEntries + 1})
	if err != nil {
		return err
	}
	if len(list) > shownEntries {
		list, v.Older = list[:shownEntries], list[shownEntries-1].ID
	}
	clock := kit.Clock(r)
	for _, d := range list {
		v.Entries = append(v.Entries, entryView{d, clock.Stamp(d.At)})
	}
	if v.People, err = a.Store.People(r.Context(), school); err != nil {
		return err
	}
	return pages.Whole(w, r, "deeds.html", "Who did what", v)
}

func (a area) auditCSV(w http.ResponseWriter, r *http.Request) error {
	list, err := a.Store.AuditLog(r.Context(), kit.Teacher(r).SchoolID, store.AuditWish{Ticks: true, Most: mostEntries})
	if err != nil {
		return err
	}
	rows := [][]string{{"when", "who", "from", "what", "project", "class", "student", "student no."}}
	for _, d := range list {
		number := ""
		if d.StudentID > 0 {
			number = strconv.FormatUint(d.StudentID, 10)
		}
		rows = append(rows, []string{kit.Clock(r).At(d.At).Format(time.RFC3339), d.Who, d.Address, d.AuditEntry.Words, d.Project, d.Class, d.Student, number})
	}
	return kit.SendCSV(w, "who did what", rows)
}
