// Package trial is what trials of load and of clusters share: a made-up school, a
// copy of the program, and haproxy before copies, all on loopback.
package trial

import (
	"context"
	"fmt"
	"image"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"time"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/demo"
	"zestysketch/internal/intake"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
)

// Class is one class with its project and its teacher's browser.
type Class struct {
	Email    string
	Project  uint64
	Students []uint64
	Links    []string // of the students
	Browser  *http.Client
}

const password = "a long password"

// School makes classes of so many students, each with a teacher and a project of the
// harbour light, and returns the labels of its boxes.
func School(ctx context.Context, db *store.Store, classes, students int) (all []Class, labels []string, err error) {
	return made(ctx, db, 0, classes, students, func(int) string { return "Quay Lane" })
}

// Schools is School with a school for each class, by numbers from one up to another.
func Schools(ctx context.Context, db *store.Store, from, to, students int) (all []Class, err error) {
	all, _, err = made(ctx, db, from, to, students, func(i int) string { return fmt.Sprintf("School %d", i) })
	return all, err
}

func made(ctx context.Context, db *store.Store, from, to, students int, school func(int) string) (all []Class, labels []string, err error) {
	sample, err := demo.NewSample()
	if err != nil {
		return nil, nil, err
	}
	text, err := grid.Encode(sample.Plan)
	if err != nil {
		return nil, nil, err
	}
	pic, files, err := intake.Take(ctx, "light.png", sample.Picture, store.ForReference)
	if err != nil {
		return nil, nil, err
	}
	for _, c := range sample.Plan.Cells() {
		labels = append(labels, c.Label)
	}
	for i := from; i < to; i++ {
		c, err := class(ctx, db, school(i), i, students, pic, files, string(text))
		if err != nil {
			return nil, nil, err
		}
		all = append(all, c)
	}
	return all, labels, nil
}

func class(ctx context.Context, db *store.Store, school string, i, students int, pic store.Picture, files []store.PictureFile, plan string) (c Class, err error) {
	c.Email = fmt.Sprintf("t%d@quay.example", i)
	teacher, err := db.AddTeacher(ctx, school, c.Email, "T", password)
	if err != nil {
		return c, err
	}
	pic.TeacherID = teacher.ID
	if err := db.AddPicture(ctx, &pic, files); err != nil {
		return c, err
	}
	made, err := db.AddClass(ctx, teacher.ID, "C")
	if err != nil {
		return c, err
	}
	var names []string
	for s := range students {
		names = append(names, fmt.Sprintf("S%02d", s))
	}
	if err := db.AddStudents(ctx, teacher.ID, made.ID, names); err != nil {
		return c, err
	}
	if made, err = db.Class(ctx, teacher.ID, made.ID); err != nil {
		return c, err
	}
	p := store.Project{TeacherID: teacher.ID, ClassID: &made.ID, PictureID: &pic.ID, Name: "Light", Looseness: accuracy.Normal}
	if err := db.AddProject(ctx, &p); err != nil {
		return c, err
	}
	if _, err := db.SavePlan(ctx, teacher.ID, p.ID, 0, p.Name, plan, nil, nil); err != nil {
		return c, err
	}
	// Who keeps a plan on the bench has its boxes weighed there and then.
	kept, err := db.Project(ctx, teacher.ID, p.ID)
	if err != nil {
		return c, err
	}
	pixels := func(context.Context, uint64, uint64) (*image.RGBA, error) { return picture.Decode(files[1].Bytes) } // the view
	if err := room.NewReader(db, pixels).Weigh(ctx, kept); err != nil {
		return c, err
	}
	c.Project = p.ID
	for _, s := range made.Students {
		c.Students = append(c.Students, s.ID)
	}
	links, err := db.Links(ctx, p, c.Students)
	for _, s := range c.Students {
		c.Links = append(c.Links, links[s])
	}
	return c, err
}

// Client is a browser without a screen, which is not led on by itself.
func Client(patience time.Duration) *http.Client {
	jar, _ := cookiejar.New(nil) // fails never without options
	return &http.Client{Jar: jar, Timeout: patience, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
		Transport: &http.Transport{MaxIdleConnsPerHost: 2}}
}

// SignIn signs the class's teacher in.
func (c *Class) SignIn(base string) error {
	c.Browser = Client(20 * time.Second)
	res, err := c.Browser.PostForm(base+"/signin", url.Values{"email": {c.Email}, "password": {password}})
	if err != nil {
		return err
	}
	res.Body.Close()
	if res.StatusCode != http.StatusSeeOther {
		return fmt.Errorf("signing in: %s", res.Status)
	}
	return nil
}
