package checks

import (
	"fmt"
	"net/http"
	"slices"
	"strconv"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// pressed is the page on which landmarks are pressed on a project's picture, before there is a plan or a photo.
type pressed struct {
	Project store.Project
	Rail    kit.Rail
	Points  []pin
	Names   []string // on offer
}

// usualNames are what is most worth getting right on what classes draw (common practice).
var usualNames = []string{"left eye", "right eye", "nose", "mouth", "left ear", "right ear", "hairline", "chin", "hand", "horizon", "top", "corner"}

// pressable returns the project of the address and its picture's landmarks.
func (a area) pressable(r *http.Request) (p store.Project, marks []store.Landmark, err error) {
	if p, err = a.Project(r); err != nil {
		return p, nil, err
	}
	if p.Picture == nil {
		return p, nil, kit.Ask("Points are pressed on a picture. Choose the picture first.")
	}
	marks, err = a.Store.Landmarks(r.Context(), p.ID, p.PictureID)
	return p, marks, err
}

// points shows the picture with its landmarks.
func (a area) points(w http.ResponseWriter, r *http.Request, p store.Project, marks []store.Landmark) error {
	v := pressed{Project: p, Rail: kit.NewRail(p, kit.StepPicture)}
	for i, l := range marks {
		v.Points = append(v.Points, pin{Landmark: l, Number: i + 1, At: kit.Tenths(plane.Pt(l.X, l.Y))})
	}
	for _, name := range usualNames {
		if !slices.ContainsFunc(marks, func(l store.Landmark) bool { return l.Name == name }) {
			v.Names = append(v.Names, name)
		}
	}
	return pages.Whole(w, r, "points.html", p.Name+" · points", v)
}

// press adds a point, moves it, says what it is, or takes it away.
func (a area) press(w http.ResponseWriter, r *http.Request, p store.Project, marks []store.Landmark) (err error) {
	l := store.Landmark{ProjectID: p.ID, PictureID: p.PictureID, Weight: 1, X: float64(p.Picture.Width) / 2, Y: float64(p.Picture.Height) / 2, Name: fmt.Sprintf("Point %d", len(marks)+1)}
	of := r.FormValue("point")
	if of != "" {
		i := slices.IndexFunc(marks, func(l store.Landmark) bool { return strconv.FormatUint(l.ID, 10) == of })
		if i < 0 {
			return store.ErrNotFound
		}
		l = marks[i]
	}
	if of == "" && len(marks) >= mostLandmarks {
		return kit.Ask("There are %d points already. Remove one that matters less.", mostLandmarks)
	}
	if err := readMark(r, &l); err != nil {
		return err
	}
	if text := r.FormValue("place"); text != "" {
		at, err := accuracy.ParsePlace(text)
		if err != nil || at.X < 0 || at.Y < 0 || at.X > float64(p.Picture.Width) || at.Y > float64(p.Picture.Height) {
			return kit.AskAt("place", "“%s” must lie on the picture. Press it there again.", l.Name)
		}
		l.X, l.Y = at.X, at.Y
	}
	switch {
	case of == "":
		err = a.Store.AddLandmark(r.Context(), &l)
	case r.FormValue("do") == "remove":
		err = a.Store.RemoveLandmark(r.Context(), p.ID, l.ID)
	default:
		err = a.Store.ChangeLandmark(r.Context(), l)
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/points")
}
