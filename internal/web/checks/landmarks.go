package checks

import (
	"fmt"
	"net/http"
	"strconv"

	"zestysketch/internal/checkin"
	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// Most landmarks in a project, and letters in a name.
const mostLandmarks, longestName = 30, 40

// addLandmark adds a landmark at x, y pixels of the frame, or in the middle
// of the frame where none are given.
func (a area) addLandmark(w http.ResponseWriter, r *http.Request, id uint64) (err error) {
	j, err := a.jobOf(r, id)
	if err != nil {
		return err
	}
	if len(j.Landmarks) >= mostLandmarks {
		return kit.Ask("There are %d landmarks already. Remove one that matters less.", mostLandmarks)
	}
	middle := j.Plan.ToPicture(plane.Pt(j.Plan.Reference.Width/2, j.Plan.Reference.Height/2))
	l := store.Landmark{ProjectID: id, PictureID: j.PictureID(), Weight: 1, X: middle.X, Y: middle.Y, Name: fmt.Sprintf("Point %d", len(j.Landmarks)+1)}
	if err := readLandmark(r, j, &l); err != nil {
		return err
	}
	if err := a.Store.AddLandmark(r.Context(), &l); err != nil {
		return err
	}
	return a.back(w, r, j)
}

// jobOf returns the job of the check-in from which landmarks are changed, the
// class's where the form names none.
func (a area) jobOf(r *http.Request, project uint64) (checkin.Job, error) {
	id, err := strconv.ParseUint(r.FormValue("checkin"), 10, 63)
	if err != nil {
		return a.job(r)
	}
	c, err := a.Store.CheckIn(r.Context(), kit.Owner(r), id)
	if err != nil {
		return checkin.Job{}, err
	}
	if c.ProjectID != project {
		return checkin.Job{}, store.ErrNotFound
	}
	return a.jobFor(r, c)
}

// readMark reads name, weight and class of a landmark; what the form leaves out stays.
func readMark(r *http.Request, l *store.Landmark) error {
	if name := kit.Tidy(r.FormValue("name")); name != "" {
		if len([]rune(name)) > longestName {
			return kit.AskAt("name", "Write a shorter name for the landmark, of at most %d letters.", longestName)
		}
		l.Name = name
	}
	if text := r.FormValue("weight"); text != "" {
		weight, err := strconv.Atoi(text)
		if err != nil || weight < 1 || weight > 3 {
			return kit.AskAt("weight", "A landmark matters 1, 2 or 3 times as much; got %q.", text)
		}
		l.Weight = weight
	}
	if r.Form.Has("class") {
		l.Class = accuracy.Class(r.FormValue("class"))
		if l.Class != accuracy.Usual && l.Class != accuracy.Critical && l.Class != accuracy.Free {
			return kit.AskAt("class", "A landmark is critical, usual or free.")
		}
	}
	return nil
}

// readLandmark reads what the form says of a landmark, with its place in the frame; what it leaves out stays.
func readLandmark(r *http.Request, j checkin.Job, l *store.Landmark) error {
	if err := readMark(r, l); err != nil {
		return err
	}
	if text := r.FormValue("place"); text != "" {
		at, err := accuracy.ParsePlace(text)
		if err != nil {
			return kit.Ask("The place of “%s” did not arrive whole. Put it there again.", l.Name)
		}
		on := frameOf(j).ToPicture(at)
		l.X, l.Y = on.X, on.Y
	}
	if _, ok := j.Mark(*l); !ok {
		return kit.Ask("“%s” lies outside the picture. Put it on the picture.", l.Name)
	}
	return nil
}

// landmark returns the job and landmark of the address.
func (a area) landmark(r *http.Request) (checkin.Job, store.Landmark, error) {
	project, err := kit.ID(r, "project")
	if err != nil {
		return checkin.Job{}, store.Landmark{}, err
	}
	id, err := kit.ID(r, "landmark")
	if err != nil {
		return checkin.Job{}, store.Landmark{}, err
	}
	j, err := a.jobOf(r, project)
	if err != nil {
		return checkin.Job{}, store.Landmark{}, err
	}
	for _, l := range j.Landmarks {
		if l.ID == id {
			return j, l, nil
		}
	}
	return checkin.Job{}, store.Landmark{}, store.ErrNotFound
}

func (a area) changeLandmark(w http.ResponseWriter, r *http.Request, j checkin.Job, l store.Landmark) error {
	if err := readLandmark(r, j, &l); err != nil {
		return err
	}
	if err := a.Store.ChangeLandmark(r.Context(), l); err != nil {
		return err
	}
	return a.back(w, r, j)
}

func (a area) removeLandmark(w http.ResponseWriter, r *http.Request, j checkin.Job, l store.Landmark) error {
	if err := a.Store.RemoveLandmark(r.Context(), l.ProjectID, l.ID); err != nil {
		return err
	}
	return a.back(w, r, j)
}

// back shows the check-in from which landmarks were changed.
func (a area) back(w http.ResponseWriter, r *http.Request, j checkin.Job) error {
	id, err := strconv.ParseUint(r.FormValue("checkin"), 10, 63)
	if err != nil {
		return kit.Go(w, r, kit.ProjectPath(j.Project)+"/check")
	}
	return kit.Go(w, r, checkInPath(id))
}
