package roster

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"
	"strings"
	"testing"

	"zestysketch/internal/mariadb/mariadbtest"
	"zestysketch/internal/store"
)

func TestMain(m *testing.M) { os.Exit(mariadbtest.Run(m)) }

// term makes a OneRoster 1.1 archive of our own, with the columns of the specification: lines of
// class, title, teacher's e-mail, then students as id:name.
func term(t *testing.T, lines ...string) []byte {
	t.Helper()
	users, classes, enrolled := map[string]string{}, "sourcedId,status,title\n", "sourcedId,status,classSourcedId,userSourcedId,role\n"
	for _, line := range lines {
		words := strings.Split(line, " ")
		id := words[0]
		classes += id + ",active," + words[1] + "\n"
		users["t"+id] = fmt.Sprintf("t%s,active,teacher,T,T,%s\n", id, words[2])
		enrolled += fmt.Sprintf("%s-t,active,%[1]s,t%[1]s,teacher\n", id)
		for _, one := range words[3:] {
			sid, name, _ := strings.Cut(one, ":")
			users[sid] = fmt.Sprintf("%s,active,student,%s,Quay,\n", sid, name)
			enrolled += fmt.Sprintf("%s-%s,active,%[1]s,%[2]s,student\n", id, sid)
		}
	}
	list := "sourcedId,status,role,givenName,familyName,email\n"
	for _, u := range users {
		list += u
	}
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range map[string]string{"users.csv": list, "classes.csv": classes, "enrollments.csv": enrolled} {
		f, err := z.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		f.Write([]byte(text))
	}
	z.Close()
	return b.Bytes()
}

// A school's list of each term is taken in as differences: classes made, who joins, moves with their work,
// leaves and comes back; what a teacher added by hand stays, and the same list again changes nothing.
func TestTerms(t *testing.T) {
	ctx := context.Background()
	db, err := store.Open(ctx, mariadbtest.DSN(t))
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	must(err)
	t.Cleanup(func() { db.Close() })
	venn, err := db.AddTeacher(ctx, "Quay", "venn@quay.example", "Venn", "a long password")
	must(err)
	_, err = db.AddTeacher(ctx, "Quay", "reed@quay.example", "Reed", "a long password")
	must(err)
	mine, err := db.AddClass(ctx, venn.ID, "7a")
	must(err)
	must(db.AddStudents(ctx, venn.ID, mine.ID, []string{"Ada", "Guest"})) // before there was a list
	take := func(b []byte) string {
		t.Helper()
		set, err := ReadSet(b)
		must(err)
		here, teachers, err := Here(ctx, db, venn.SchoolID)
		must(err)
		changes, nobodys := Differences(set, here, teachers)
		must(Take(ctx, db, venn.SchoolID, changes))
		words := ""
		for _, c := range changes {
			words += fmt.Sprintf("%s %s %s; ", c.Kind, c.Title, c.Name)
		}
		return words + strings.Join(nobodys, ",")
	}
	first := term(t, "c1 7a venn@quay.example s1:Ada s2:Bo", "c2 7b Venn@quay.example s3:Cleo", "c3 8x reed@quay.example s4:Dan", "c4 9z nobody@quay.example s5:Eve")
	if got, want := take(first), "known 7a Ada; join 7a Bo; class 7b ; join 7b Cleo; class 8x ; join 8x Dan; 9z"; got != want {
		t.Errorf("first term: %q; want %q", got, want)
	}
	if got := take(first); got != "9z" {
		t.Errorf("the same again: %q", got)
	}
	second := term(t, "c1 7a venn@quay.example s1:Ada s3:Cleo", "c2 7b venn@quay.example s4:Dan", "c3 8x reed@quay.example s2:Bo")
	if got, want := take(second), "move 7a Cleo; leave 7a Bo; join 7b Dan; join 8x Bo; leave 8x Dan; "; got != want {
		t.Errorf("second term: %q; want %q", got, want)
	}
	if got, want := take(term(t, "c1 7a venn@quay.example s1:Ada s2:Bo s3:Cleo")), "join 7a Bo; "; got != want {
		t.Errorf("back: %q; want %q", got, want)
	}
	class, err := db.Class(ctx, venn.ID, mine.ID)
	must(err)
	var names []string
	for _, s := range class.Students {
		names = append(names, s.Name)
	}
	if got := strings.Join(names, " "); got != "Ada Bo Cleo Guest" {
		t.Errorf("7a has %s", got)
	}
	stranger, err := db.AddTeacher(ctx, "Mole", "m@mole.example", "M", "a long password")
	must(err)
	for _, c := range []Change{{Kind: Joins, Class: mine.ID, Teacher: stranger.ID, Name: "X"}, {Kind: Leaves, Class: mine.ID, Teacher: stranger.ID, Student: class.Students[0].ID}} {
		if err := Take(ctx, db, stranger.SchoolID, []Change{c}); !errors.Is(err, store.ErrNotFound) {
			t.Errorf("another school's %+v: %v", c, err)
		}
	}
	for _, bad := range [][]byte{nil, []byte("name\nAda"), []byte("PK\x03\x04 and no more")} {
		if _, err := ReadSet(bad); !errors.Is(err, ErrList) {
			t.Errorf("%q: %v", bad, err)
		}
	}
}
