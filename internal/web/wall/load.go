package wall

import (
	"fmt"
	"net/http"
	"strconv"
	"time"

	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// load fetches the class at work on the project in the address.
func (a area) load(r *http.Request) (*room.Room, error) {
	p, err := a.Project(r)
	if err != nil {
		return nil, err
	}
	return a.Rooms.Load(r.Context(), p, kit.Clock(r), time.Now())
}

// student returns the student in the address, who must be in the class shown.
func student(r *http.Request, work *room.Room) (store.Student, error) {
	id, err := kit.ID(r, "student")
	if err != nil {
		return store.Student{}, err
	}
	return work.Student(id)
}

// posted fetches the class at work and the student in the address.
func (a area) posted(r *http.Request) (work *room.Room, s store.Student, err error) {
	if work, err = a.load(r); err != nil {
		return nil, s, err
	}
	s, err = student(r, work)
	return work, s, err
}

func path(project store.Project, student uint64) string {
	return fmt.Sprintf("%s/wall?student=%s", kit.ProjectPath(project), strconv.FormatUint(student, 10))
}
