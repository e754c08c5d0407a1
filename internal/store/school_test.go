package store

import (
	"context"
	"errors"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
)

// must stops a test at an error.
func must(t *testing.T, errs ...error) {
	t.Helper()
	if err := errors.Join(errs...); err != nil {
		t.Fatal(err)
	}
}

// The word that the start command printed makes one school, however many type it at
// once; where somebody is there, none does.
func TestTheFirstDay(t *testing.T) {
	s, ctx := open(t), context.Background()
	word, err := s.Invite(ctx, Invitation{Kind: ToBegin})
	must(t, err)
	second, err := s.Invite(ctx, Invitation{Kind: ToBegin}) // another start, the same day
	must(t, err)
	if _, err := s.Begin(ctx, "abcd-efgh-jkmn", NewSchool("Quay"), "a@quay.example", "A", "harbour kettle lantern"); !errors.Is(err, ErrNotFound) {
		t.Errorf("a guessed word: %v", err)
	}
	var made sync.WaitGroup
	errs, first := make([]error, 4), make([]Teacher, 4)
	for i := range errs {
		made.Go(func() {
			// As it is typed by hand: capitals, spaces.
			first[i], errs[i] = s.Begin(ctx, strings.ToUpper(strings.ReplaceAll([]string{word, second}[i%2], "-", " ")), NewSchool("Quay"), "a@quay.example", "A", "harbour kettle lantern")
		})
	}
	made.Wait()
	fine, school := 0, uint64(0)
	for i, err := range errs {
		if err == nil {
			fine, school = fine+1, first[i].SchoolID // not always 1: one that was undone had a number too
		}
	}
	people, err := s.People(ctx, school)
	if n, _ := s.CountTeachers(ctx); err != nil || fine != 1 || n != 1 || len(people) != 1 || !people[0].Admin {
		t.Errorf("%d made the school of %d, %+v, %v, %v", fine, n, people, err, errs)
	}
	late, err := s.Invite(ctx, Invitation{Kind: ToBegin})
	must(t, err)
	if _, err := s.Begin(ctx, late, NewSchool("Pier"), "b@quay.example", "B", "harbour kettle lantern"); !errors.Is(err, ErrNotFound) {
		t.Errorf("a second school: %v", err)
	}
}

// An invitation opens once, in its time, as long as who made it is there.
func TestInvitations(t *testing.T) {
	s, ctx := open(t), context.Background()
	admin, _, _ := room(t, s, "a@quay.example")
	invite := func(kind InvitationKind, email string, whose *uint64) string {
		t.Helper()
		letters, err := s.Invite(ctx, Invitation{Kind: kind, SchoolID: &admin.SchoolID, TeacherID: whose, ByID: &admin.ID, Name: "B", Email: email})
		must(t, err)
		return letters
	}
	letters := invite(ToJoin, "B@quay.example", nil)
	var joined sync.WaitGroup
	errs := make([]error, 3)
	for i := range errs {
		joined.Go(func() { _, errs[i] = s.Join(ctx, letters, "Ms B", "harbour kettle lantern") })
	}
	joined.Wait()
	if n := len(slices.DeleteFunc(slices.Clone(errs), func(err error) bool { return errors.Is(err, ErrNotFound) })); n != 1 || errors.Join(errs...) == nil {
		t.Errorf("used at once: %v; want one to come in", errs)
	}
	b, err := s.TeacherByAddress(ctx, "b@quay.example")
	if err != nil || b.Admin || b.Name != "Ms B" || b.SchoolID != admin.SchoolID {
		t.Errorf("joined as %+v, %v", b, err)
	}
	if _, err := s.Join(ctx, invite(ToJoin, "b@quay.example", nil), "B again", "harbour kettle lantern"); !errors.Is(err, ErrTaken) {
		t.Errorf("an address in use: %v", err)
	}
	old, over := invite(ToJoin, "c@quay.example", nil), invite(ToReset, "b@quay.example", &b.ID)
	must(t, s.db.Exec("UPDATE invitations SET expires_at = UTC_TIMESTAMP() - INTERVAL 1 SECOND WHERE email = 'c@quay.example'").Error)
	_, err = s.Invited(ctx, old)
	if _, err2 := s.Join(ctx, old, "C", "harbour kettle lantern"); !errors.Is(err, ErrNotFound) || !errors.Is(err2, ErrNotFound) {
		t.Errorf("past its time: %v, %v", err, err2)
	}
	if _, err := s.Join(ctx, over, "B", "harbour kettle lantern"); !errors.Is(err, ErrNotFound) {
		t.Errorf("a link for a password lets somebody join: %v", err)
	}
	// Who left: what they made opens nothing, and neither does what is for them.
	must(t, s.SetAdmin(ctx, admin.SchoolID, b.ID, true))
	by := invite(ToJoin, "d@quay.example", nil)
	now := time.Now()
	must(t, s.Disable(ctx, admin.SchoolID, admin.ID, &now))
	for _, letters := range []string{by, over} {
		if _, err := s.Invited(ctx, letters); !errors.Is(err, ErrNotFound) {
			t.Errorf("a leaver's link: %v", err)
		}
	}
}

// A link for a new password signs out everywhere, ends the code, and is done with.
func TestLostPassword(t *testing.T) {
	s, ctx := open(t), context.Background()
	a, _, _ := room(t, s, "a@quay.example")
	in, err := s.StartSignIn(ctx, SignIn{TeacherID: a.ID, Browser: "Firefox on Linux", Address: "192.0.2.7"})
	must(t, err)
	must(t, s.db.Model(&a).Update("second_secret", "JBSWY3DPEHPK3PXP").Error)
	letters, err := s.Invite(ctx, Invitation{Kind: ToReset, TeacherID: &a.ID, Name: a.Name, Email: a.Email})
	must(t, err)
	must(t, s.Reset(ctx, letters, "harbour kettle lantern"))
	if err := s.Reset(ctx, letters, "harbour kettle lanterns"); !errors.Is(err, ErrNotFound) {
		t.Errorf("used twice: %v", err)
	}
	got, err := s.SignIn(ctx, "a@quay.example", "harbour kettle lantern")
	if err != nil || got.SecondSecret != "" {
		t.Errorf("signing in: %+v, %v", got, err)
	}
	if _, err := s.SignedIn(ctx, in); !errors.Is(err, ErrNotFound) {
		t.Errorf("the sign-in of before: %v", err)
	}
}

// A school always has an administrator, also where two take each other's leave at once.
func TestTheLastAdministrator(t *testing.T) {
	s, ctx := open(t), context.Background()
	a, _, _ := room(t, s, "a@quay.example")
	b, err := s.AddTeacher(ctx, "Quay School", "b@quay.example", "B", "harbour kettle lantern")
	must(t, err)
	now := time.Now()
	for _, err := range []error{s.Disable(ctx, a.SchoolID, a.ID, &now), s.SetAdmin(ctx, a.SchoolID, a.ID, false)} {
		if !errors.Is(err, ErrLast) {
			t.Errorf("the last one goes: %v", err)
		}
	}
	if err := s.SetAdmin(ctx, a.SchoolID+1, b.ID, true); !errors.Is(err, ErrNotFound) {
		t.Errorf("from another school: %v", err)
	}
	for range 5 {
		must(t, s.SetAdmin(ctx, a.SchoolID, a.ID, true), s.SetAdmin(ctx, a.SchoolID, b.ID, true))
		var both sync.WaitGroup
		var errs [2]error
		both.Go(func() { errs[0] = s.SetAdmin(ctx, a.SchoolID, a.ID, false) })
		both.Go(func() { errs[1] = s.Disable(ctx, a.SchoolID, b.ID, &now) })
		both.Wait()
		if (errs[0] == nil) == (errs[1] == nil) || !errors.Is(errors.Join(errs[:]...), ErrLast) {
			t.Fatalf("both at once: %v", errs)
		}
		must(t, s.Disable(ctx, a.SchoolID, b.ID, nil))
	}
	if _, err := s.SignIn(ctx, "b@quay.example", "harbour kettle lantern"); err != nil {
		t.Errorf("let in again: %v", err)
	}
}

// A code is taken once, near its time, and a recovery word once instead (codes: RFC 6238).
func TestSecondStep(t *testing.T) {
	s, ctx := open(t), context.Background()
	a, _, _ := room(t, s, "a@quay.example")
	key, err := NewSecond(a)
	must(t, err)
	at := time.Date(2026, 11, 26, 8, 0, 5, 0, time.UTC)
	code := func(at time.Time) string {
		c, err := totp.GenerateCode(key.Secret(), at)
		must(t, err)
		return c
	}
	if _, err := s.SetSecond(ctx, a.ID, key.Secret(), "000000", at); !errors.Is(err, ErrNotFound) {
		t.Errorf("kept by a guessed code: %v", err)
	}
	words, err := s.SetSecond(ctx, a.ID, key.Secret(), code(at), at)
	if err != nil || len(words) != recoveryWords {
		t.Fatal(words, err)
	}
	a.SecondSecret = key.Secret()
	next := at.Add(30 * time.Second)
	for _, c := range []struct {
		what, code string
		fine       bool
	}{
		{"the code that set it up", code(at), false}, {"no code", "", false}, {"letters", "abcdef", false}, {"the next", code(next), true}, {"the next again", code(next), false},
		{"one of long ago", code(at.Add(-time.Hour)), false}, {"a word", strings.ToUpper(words[0]), true}, {"the word again", words[0], false}, {"another word", words[1], true},
	} {
		if err := s.TakeSecond(ctx, a, c.code, next); c.fine != (err == nil) || err != nil && !errors.Is(err, ErrNotFound) {
			t.Errorf("%s: %v", c.what, err)
		}
	}
	if n, err := s.RecoveryWords(ctx, a.ID); err != nil || n != recoveryWords-2 {
		t.Errorf("%d words left, %v", n, err)
	}
	must(t, s.EndSecond(ctx, a.ID))
	if n, _ := s.RecoveryWords(ctx, a.ID); n != 0 {
		t.Errorf("%d words are left of a code that is asked for no more", n)
	}
}

// What is shared holds for its level, its days, and no other thing.
func TestAccess(t *testing.T) {
	s, ctx := open(t), context.Background()
	a, class, p := room(t, s, "a@quay.example")
	b, err := s.AddTeacher(ctx, "Quay School", "b@quay.example", "B", "harbour kettle lantern")
	must(t, err)
	far, _, _ := room(t, s, "c@pier.example")
	if far.SchoolID == a.SchoolID {
		must(t, s.db.Exec("INSERT INTO schools (name, zone, created_at) VALUES ('Pier', '', NOW())").Error)
		must(t, s.db.Exec("UPDATE teachers SET school_id = (SELECT MAX(id) FROM schools) WHERE id = ?", far.ID).Error)
	}
	day := func(text string) *time.Time {
		d, err := time.Parse(time.DateOnly, text)
		must(t, err)
		return &d
	}
	can := func(what string, id uint64, on string) Level {
		t.Helper()
		g, err := s.Access(ctx, b.ID, what, id, on)
		must(t, err)
		if g.Level > Nothing && (g.Owner != a.ID || g.Name != a.Name) {
			t.Errorf("whose: %+v", g)
		}
		return g.Level
	}
	atWork(t, s, a, p, class.Students[0])
	var note Note
	must(t, s.db.First(&note, "project_id = ?", p.ID).Error)
	must(t, s.Share(ctx, a.ID, Share{ProjectID: &p.ID, TeacherID: b.ID, Level: ToCover, FromDay: day("2026-12-01"), UntilDay: day("2026-12-03")}))
	for on, want := range map[string]Level{"2026-11-30": Nothing, "2026-12-01": ToCover, "2026-12-03": ToCover, "2026-12-04": Nothing} {
		if got := can(OfProject, p.ID, on); got != want {
			t.Errorf("on %s: %d; want %d", on, got, want)
		}
		if got := can(OfNote, note.ID, on); got != want {
			t.Errorf("its note on %s: %d; want %d", on, got, want)
		}
	}
	on := "2026-12-02"
	if can(OfClass, class.ID, on) != Nothing || can(OfStudent, class.Students[0].ID, on) != Nothing || can("printer", 1, on) != Nothing || can(OfProject, p.ID+1, on) != Nothing {
		t.Error("a shared project lets a colleague at more")
	}
	// With the class comes what it draws; of two ways the further counts.
	must(t, s.Share(ctx, a.ID, Share{ClassID: &class.ID, TeacherID: b.ID, Level: ToOwn}))
	if can(OfProject, p.ID, on) != ToOwn || can(OfStudent, class.Students[0].ID, on) != ToOwn || can(OfNote, note.ID, "2027-01-01") != ToOwn {
		t.Error("a shared class does not bring its project")
	}
	if list, err := s.ClassesSharedWith(ctx, b.ID, on); err != nil || len(list) != 1 || list[0].ID != class.ID || len(list[0].Students) != 2 || list[0].Owner != a.Name {
		t.Errorf("among the classes: %+v, %v", list, err)
	}
	if list, err := s.SharedWith(ctx, b.ID, on); err != nil || len(list) != 1 || list[0].Level != ToOwn || list[0].Owner != a.Name {
		t.Errorf("on Today: %+v, %v", list, err)
	}
	for what, share := range map[string]Share{"oneself": {ProjectID: &p.ID, TeacherID: a.ID, Level: ToLook}, "another school": {ProjectID: &p.ID, TeacherID: far.ID, Level: ToLook}} {
		if err := s.Share(ctx, a.ID, share); !errors.Is(err, ErrNotFound) {
			t.Errorf("shared with %s: %v", what, err)
		}
	}
	if err := s.Share(ctx, b.ID, Share{ProjectID: &p.ID, TeacherID: a.ID, Level: ToLook}); !errors.Is(err, ErrNotFound) {
		t.Errorf("shared on by a colleague: %v", err)
	}
	list, err := s.SharesOf(ctx, p.ID)
	if err != nil || len(list) != 2 {
		t.Fatalf("%+v, %v", list, err)
	}
	if err := s.Unshare(ctx, b.ID, list[0].ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("ended by a colleague: %v", err)
	}
	must(t, s.Unshare(ctx, a.ID, list[0].ID), s.Unshare(ctx, a.ID, list[1].ID))
	if can(OfProject, p.ID, on) != Nothing {
		t.Error("what was ended holds still")
	}
}

// A class goes on with all that it draws; a picture that the giver's other
// projects use is doubled. Of a leaver's everything nothing is left with them.
func TestHandOn(t *testing.T) {
	s, ctx := open(t), context.Background()
	a, class, p := room(t, s, "a@quay.example")
	b, err := s.AddTeacher(ctx, "Quay School", "b@quay.example", "B", "harbour kettle lantern")
	must(t, err)
	atWork(t, s, a, p, class.Students[0])
	shared := Picture{TeacherID: a.ID, Name: "lamp", Width: 4, Height: 3, Purpose: ForReference, Hash: []byte("x")}
	must(t, s.AddPicture(ctx, &shared, []PictureFile{{Role: Full, Kind: "image/png", Bytes: []byte("lamp")}}))
	must(t, s.SetPicture(ctx, a.ID, p.ID, shared.ID))
	stays := Project{TeacherID: a.ID, Name: "Stays", Looseness: "normal", PictureID: &shared.ID}
	must(t, s.AddProject(ctx, &stays))
	link, err := s.Link(ctx, p, class.Students[0].ID)
	must(t, err)
	must(t, s.Share(ctx, a.ID, Share{ClassID: &class.ID, TeacherID: b.ID, Level: ToLook}))
	must(t, s.HandOn(ctx, a.SchoolID, a.ID, b.ID, class.ID))
	got, err := s.Project(ctx, b.ID, p.ID)
	if err != nil || got.Class.ID != class.ID || *got.PictureID == shared.ID {
		t.Fatalf("%+v, %v", got, err)
	}
	for teacher, pic := range map[uint64]uint64{a.ID: shared.ID, b.ID: *got.PictureID} {
		if f, err := s.PictureFile(ctx, teacher, pic, Full); err != nil || string(f.Bytes) != "lamp" {
			t.Errorf("the picture of %d: %q, %v", teacher, f.Bytes, err)
		}
	}
	if _, err := s.Project(ctx, a.ID, stays.ID); err != nil {
		t.Errorf("what the class does not draw went too: %v", err)
	}
	if _, _, err := s.Linked(ctx, link); err != nil {
		t.Errorf("the tablet's link: %v", err)
	}
	if list, _ := s.ClassShares(ctx, class.ID); len(list) != 0 {
		t.Errorf("it is shared with its owner: %+v", list)
	}
	photos, err := s.PhotosOf(ctx, class.Students[0].ID)
	must(t, err)
	for _, f := range photos {
		if _, err := s.PictureFile(ctx, b.ID, f.ID, Full); err != nil {
			t.Errorf("a photo stayed behind: %v", err)
		}
	}
	if err := s.HandOn(ctx, a.SchoolID, a.ID, b.ID, class.ID); !errors.Is(err, ErrNotFound) {
		t.Errorf("handed on twice: %v", err)
	}
	copied, err := s.GiveCopy(ctx, b.ID, p.ID, a.ID)
	must(t, err)
	given, err := s.Project(ctx, a.ID, copied)
	if err != nil || given.Class != nil || *given.PictureID == *got.PictureID || given.Picture.TeacherID != a.ID {
		t.Errorf("a copy: %+v, %v", given, err)
	}
	must(t, s.HandOn(ctx, a.SchoolID, a.ID, b.ID, 0))
	var left int64
	must(t, s.db.Raw("SELECT (SELECT COUNT(*) FROM projects WHERE teacher_id = ?) + (SELECT COUNT(*) FROM pictures WHERE teacher_id = ?)", a.ID, a.ID).Scan(&left).Error)
	if left != 0 {
		t.Errorf("%d things stayed with who left", left)
	}
}

// Photos and notes end after the time that the school sets, with notice before;
// ticks stay.
func TestRetention(t *testing.T) {
	s, ctx := open(t), context.Background()
	a, class, p := room(t, s, "a@quay.example")
	other, theirs, q := room(t, s, "b@pier.example")
	must(t, s.db.Exec("INSERT INTO schools (name, zone, created_at, units) VALUES ('Pier', '', NOW(), 'in')").Error)
	must(t, s.db.Exec("UPDATE teachers SET school_id = (SELECT MAX(id) FROM schools) WHERE id = ?", other.ID).Error)
	for i, one := range class.Students[:2] {
		atWork(t, s, a, p, one)
		atWork(t, s, other, q, theirs.Students[i])
	}
	now := time.Now()
	age := func(days int) {
		for _, table := range []string{"pictures", "notes"} {
			must(t, s.db.Exec("UPDATE "+table+" SET created_at = ?", now.AddDate(0, 0, -days)).Error)
		}
	}
	place, err := s.Teacher(ctx, a.ID)
	must(t, err)
	soon := func() Ending {
		e, err := s.Ending(ctx, place.School, a.ID, now)
		must(t, err)
		return e
	}
	age(700)
	if e := soon(); e != (Ending{}) {
		t.Errorf("a school that keeps all says %+v", e)
	}
	place.School.PhotoMonths, place.School.NoteMonths = 12, 24
	must(t, s.SetSchool(ctx, place.School))
	age(350)
	if e := soon(); e.Photos != 4 || e.Notes != 0 {
		t.Errorf("notice of %+v; want of 4 photos", e)
	}
	if e, err := s.EndOld(ctx, now); err != nil || e != (Ending{}) {
		t.Errorf("before their time %+v end, %v", e, err)
	}
	age(370)
	if e, err := s.EndOld(ctx, now); err != nil || e.Photos != 4 || e.Notes != 0 {
		t.Errorf("%+v ended, %v; want 4 photos", e, err)
	}
	age(800)
	if e, err := s.EndOld(ctx, now); err != nil || e.Photos != 0 || e.Notes != 2 {
		t.Errorf("%+v ended, %v; want 2 notes", e, err)
	}
	for teacher, want := range map[uint64]int64{a.ID: 0, other.ID: 4} {
		var n int64
		must(t, s.db.Model(&Picture{}).Where("teacher_id = ? AND purpose = ?", teacher, ForCheckIn).Count(&n).Error)
		if n != want {
			t.Errorf("%d photos of %d; want %d", n, teacher, want)
		}
	}
	if ticks, err := s.Ticks(ctx, p.ID); err != nil || len(ticks) == 0 {
		t.Errorf("ticks: %v, %v", ticks, err)
	}
}

// Two classes draw one project side by side; a new year moves the classes on and
// puts away what is over, all or nothing.
func TestSideBySideAndNewYear(t *testing.T) {
	s, ctx := open(t), context.Background()
	a, class, p := room(t, s, "a@quay.example")
	other, theirs, _ := room(t, s, "b@quay.example")
	second, err := s.AddClass(ctx, a.ID, "7 Pier")
	must(t, err)
	must(t, s.AddStudents(ctx, a.ID, second.ID, []string{"Cleo"}), s.SetClass(ctx, a.ID, p.ID, second.ID))
	first, err := s.Project(ctx, a.ID, p.ID)
	must(t, err)
	beside, err := s.ProjectIn(ctx, a.ID, p.ID, second.ID)
	if err != nil || *first.ClassID != class.ID || first.Key() == beside.Key() || len(beside.Class.Students) != 1 || beside.Class.Students[0].Name != "Cleo" {
		t.Errorf("%+v, %+v, %v", first, beside, err)
	}
	for _, no := range []uint64{theirs.ID, 999} {
		if _, err := s.ProjectIn(ctx, a.ID, p.ID, no); !errors.Is(err, ErrNotFound) {
			t.Errorf("class %d: %v", no, err)
		}
	}
	o, err := s.Overview(ctx, a.ID, time.Now())
	if err != nil || len(o.Classes[p.ID]) != 2 || o.Classes[p.ID][0].ID != class.ID {
		t.Errorf("on Today: %+v, %v", o.Classes, err)
	}
	must(t, s.DropClass(ctx, a.ID, p.ID, class.ID))
	if first, err = s.Project(ctx, a.ID, p.ID); err != nil || *first.ClassID != second.ID {
		t.Errorf("the second is not the first: %+v, %v", first.ClassID, err)
	}
	if err := s.NewYear(ctx, a.ID, []YearMove{{class.ID, "8 Quay"}, {theirs.ID, ""}}, []uint64{p.ID}); !errors.Is(err, ErrNotFound) {
		t.Errorf("another's class: %v", err)
	}
	if c, _ := s.Class(ctx, a.ID, class.ID); c.Name == "8 Quay" {
		t.Error("half a year began")
	}
	must(t, s.NewYear(ctx, a.ID, []YearMove{{class.ID, "8 Quay"}, {second.ID, ""}}, []uint64{p.ID}))
	list, err := s.Classes(ctx, a.ID)
	if err != nil || len(list) != 1 || list[0].Name != "8 Quay" || len(list[0].Students) != len(class.Students) {
		t.Errorf("then: %+v, %v", list, err)
	}
	if shelf, err := s.Shelf(ctx, a.ID); err != nil || len(shelf) != 1 || shelf[0].ID != p.ID {
		t.Errorf("the shelf: %+v, %v", shelf, err)
	}
	h, err := s.Search(ctx, a.ID, "2026-11-26", "quay")
	if err != nil || len(h.Classes) != 1 || len(h.Students) != 0 {
		t.Errorf("found %+v, %v", h, err)
	}
	if err := s.UndoYear(ctx, a.ID, time.Now().Add(YearUndo+time.Hour)); !errors.Is(err, ErrNotFound) {
		t.Errorf("taken back a week later: %v", err)
	}
	if err := s.UndoYear(ctx, other.ID, time.Now()); !errors.Is(err, ErrNotFound) {
		t.Errorf("another teacher took a year back: %v", err)
	}
	must(t, s.UndoYear(ctx, a.ID, time.Now()))
	list, err = s.Classes(ctx, a.ID)
	if shelf, e := s.Shelf(ctx, a.ID); err != nil || e != nil || len(shelf) != 0 || len(list) != 2 || !slices.ContainsFunc(list, func(c Class) bool { return c.ID == class.ID && c.Name == class.Name }) {
		t.Errorf("taken back: %+v, %+v, %v", list, shelf, err)
	}
	if err := s.UndoYear(ctx, a.ID, time.Now()); !errors.Is(err, ErrNotFound) {
		t.Errorf("taken back twice: %v", err)
	}
	must(t, s.NewYear(ctx, a.ID, []YearMove{{class.ID, "8 Quay"}, {second.ID, ""}}, []uint64{p.ID}))
	if h, err := s.Search(ctx, other.ID, "2026-11-26", "cleo"); err != nil || len(h.Students) != 0 {
		t.Errorf("found of another teacher's: %+v, %v", h, err)
	}
	if h, err := s.Search(ctx, a.ID, "2026-11-26", "cLÉo"); err != nil || len(h.Students) != 1 || h.Students[0].Class != second.Name {
		t.Errorf("found %+v, %v", h, err)
	}
	if h, err := s.Search(ctx, a.ID, "2026-11-26", "c_eo %"); err != nil || len(h.Students) != 0 {
		t.Errorf("patterns are letters: %+v, %v", h, err)
	}
}

// A student is forgotten while a set with their name is being made and their tablet
// ticks: neither leaves anything.
func TestForgottenInTheMiddle(t *testing.T) {
	s, ctx := open(t), context.Background()
	a, class, p := room(t, s, "a@quay.example")
	one := class.Students[0]
	must(t, s.RenameStudent(ctx, a.ID, one.ID, "Quillfeather"))
	must(t, s.AddJob(ctx, a.ID, &Job{ProjectID: p.ID, Kind: SetJob, Spec: `{"kinds":["clean"]}`}), s.DropClass(ctx, a.ID, p.ID, class.ID))
	job, ok, err := s.TakeJob(ctx)
	if err != nil || !ok {
		t.Fatal(ok, err)
	}
	must(t, s.SetClass(ctx, a.ID, p.ID, class.ID))
	var ticking sync.WaitGroup
	stop, begun := make(chan struct{}), make(chan struct{}, 1000)
	ticking.Go(func() {
		for {
			select {
			case <-stop:
				return
			default:
			}
			err := s.Tick(ctx, a.ID, p.ID, one.ID, "A1", true, time.Now())
			if err != nil && !errors.Is(err, ErrNotFound) {
				t.Errorf("a tick: %v", err)
				return
			}
			select {
			case begun <- struct{}{}:
			default:
			}
		}
	})
	<-begun
	must(t, s.ForgetStudent(ctx, a.ID, one.ID))
	close(stop)
	ticking.Wait()
	going, err := s.Progress(ctx, job.ID, 1, 2)
	if err2 := s.FinishSet(ctx, job.ID, []byte("PDF for Quillfeather"), "for Quillfeather"); err != nil || err2 != nil || going {
		t.Errorf("the set goes on: %v, %v, %v", going, err, err2)
	}
	if left := traces(t, s, one.ID, "Quillfeather"); !slices.Equal(left, []string{"forgotten.student_id"}) {
		t.Errorf("of Quillfeather is left %v", left)
	}
}

// Who did what names students by number, forgets them with everything else, and is
// kept for a year.
func TestAuditLog(t *testing.T) {
	s, ctx := open(t), context.Background()
	a, class, p := room(t, s, "a@quay.example")
	one := class.Students[0]
	must(t, s.RenameStudent(ctx, a.ID, one.ID, "Quillfeather"))
	for words, kind := range map[string]AuditKind{"saw what is kept of a student": Looked, "exported everything of a student": Gave} {
		must(t, s.Audit(ctx, AuditEntry{SchoolID: a.SchoolID, TeacherID: &a.ID, Who: a.Name, Address: "192.0.2.1", Kind: kind, Words: words, StudentID: one.ID, ProjectID: p.ID}))
	}
	if in, err := s.AuditLogIn(ctx, p.ID); err != nil || len(in) != 1 || in[0].Kind != Gave {
		t.Errorf("in a project's log: %+v, %v; want what was given alone", in, err)
	}
	list, err := s.AuditLog(ctx, a.SchoolID, AuditWish{Words: "quillf", Most: 10})
	if err != nil || len(list) != 2 || list[0].Student != "Quillfeather" || list[0].Project != p.Name || list[0].Class != class.Name {
		t.Errorf("%+v, %v", list, err)
	}
	if looks, err := s.AuditLog(ctx, a.SchoolID, AuditWish{Teacher: a.ID, Kind: Looked, Most: 10}); err != nil || len(looks) != 1 || looks[0].Kind != Looked {
		t.Errorf("of looks: %+v, %v", looks, err)
	}
	must(t, s.Audit(ctx, AuditEntry{SchoolID: a.SchoolID, TeacherID: &a.ID, Who: a.Name, Kind: Ticked, Words: "ticked boxes"}))
	for want, w := range map[int]AuditWish{2: {Most: 10}, 1: {Kind: Ticked, Most: 10}, 3: {Ticks: true, Most: 10}} {
		if list, err := s.AuditLog(ctx, a.SchoolID, w); err != nil || len(list) != want {
			t.Errorf("%+v: %d entries, %v; want %d: ticks stand apart", w, len(list), err, want)
		}
	}
	if none, err := s.AuditLog(ctx, a.SchoolID+1, AuditWish{Most: 10}); err != nil || len(none) > 0 {
		t.Errorf("another school's: %+v, %v", none, err)
	}
	must(t, s.ForgetStudent(ctx, a.ID, one.ID))
	must(t, s.Audit(ctx, AuditEntry{SchoolID: a.SchoolID, TeacherID: &a.ID, Who: a.Name, Words: "was slow", StudentID: one.ID}))
	if list, err = s.AuditLog(ctx, a.SchoolID, AuditWish{Most: 10}); err != nil || len(list) != 3 || list[0].Student != "" || list[0].StudentID != 0 {
		t.Errorf("after forgetting: %+v, %v", list, err)
	}
	must(t, s.SweepAuditLog(ctx, time.Now().Add(-AuditKept)))
	if list, _ = s.AuditLog(ctx, a.SchoolID, AuditWish{Most: 10}); len(list) != 3 {
		t.Errorf("swept too early: %+v", list)
	}
	must(t, s.SweepAuditLog(ctx, time.Now().Add(time.Minute)))
	if list, _ = s.AuditLog(ctx, a.SchoolID, AuditWish{Most: 10}); len(list) != 0 {
		t.Errorf("kept too long: %+v", list)
	}
}

// The first page has what was at work within two months, the newest six at least; the
// others are listed apart.
func TestAtWorkAndTheRest(t *testing.T) {
	s, ctx := open(t), context.Background()
	a, _, p := room(t, s, "a@quay.example")
	now := time.Now()
	for i := range 9 {
		must(t, s.AddProject(ctx, &Project{TeacherID: a.ID, Name: "Older", Looseness: "normal"}))
		must(t, s.db.Exec("UPDATE projects SET updated_at = ? WHERE teacher_id = ? AND name = 'Older' ORDER BY id DESC LIMIT 1", now.AddDate(0, 0, -100*(i+1)), a.ID).Error)
	}
	count := func() (int, int) {
		o, err := s.Overview(ctx, a.ID, now)
		must(t, err)
		if o.Projects[0].ID != p.ID {
			t.Errorf("the newest is %q", o.Projects[0].Name)
		}
		return len(o.Projects), len(o.Rest)
	}
	if current, rest := count(); current != fewCurrent || rest != 10-fewCurrent {
		t.Errorf("%d at work and %d others; want %d and %d", current, rest, fewCurrent, 10-fewCurrent)
	}
	must(t, s.db.Exec("UPDATE projects SET updated_at = ?", now.AddDate(0, 0, -59)).Error)
	p, err := s.Project(ctx, a.ID, p.ID)
	must(t, err, s.Touch(ctx, p))
	if current, rest := count(); current != 10 || rest != 0 {
		t.Errorf("%d at work and %d others; want all ten", current, rest)
	}
}
