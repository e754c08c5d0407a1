package student

import (
	"bytes"
	"image"
	"image/jpeg"
	"net/http"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	photos "zestysketch/internal/core/photo"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/intake"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// viewSide is the longer side, in pixels, of a student's own view as it is kept, and
// leastView the shorter side of what is seen through the frame, below which no line is read
// off it (ours).
const viewSide, leastView = 1800, 300

// ownView is what the page of a student's own view shows.
type ownView struct {
	Link, Name, Project string
	Way                 bool // the project is drawn from life
	Drawing             bool // boxes are ticked: another view would be another drawing
	Taken               uint64
}

// Open reports whether a view may be taken now.
func (v ownView) Open() bool { return v.Way && !v.Drawing }

func (a area) ownViewOf(r *http.Request) (own, ownView, error) {
	o, err := a.open(r)
	if err != nil {
		return o, ownView{}, err
	}
	ticks, err := a.Store.StudentTicks(r.Context(), o.project.ID, o.student.ID)
	v := ownView{Link: chi.URLParam(r, "link"), Name: o.student.Name, Project: o.project.Name, Way: o.project.EffectiveRoad().Way == lesson.FromLife,
		Drawing: len(o.plans.Done(o.student.ID, ticks)) > 0}
	if pic := o.picture; pic != nil && pic.Purpose == store.ForView {
		v.Taken = pic.ID
	}
	return o, v, err
}

func (a area) viewPage(w http.ResponseWriter, r *http.Request, _ own, v ownView) error {
	return pages.Whole(w, r, "view.html", v.Name+" · my view", v)
}

// takeView keeps what a student sees from their own seat through the frame: from then on it
// is the picture that they draw from, and that their drawing is checked against.
func (a area) takeView(w http.ResponseWriter, r *http.Request) error {
	o, v, err := a.ownViewOf(r)
	switch {
	case err != nil:
		return err
	case !v.Way:
		return kit.Ask("This project is drawn from a picture: there is no view to photograph.")
	case v.Drawing:
		return kit.Ask("Boxes are ticked already. Another view would be another drawing: ask your teacher first.")
	}
	name, b, err := readPhoto(w, r, "view", "Take or choose a photo through the frame first.")
	if err != nil {
		return err
	}
	jpg, err := throughFrame(r, b, o.plans.Class)
	if err != nil {
		return err
	}
	pic, files, err := intake.Take(r.Context(), name, jpg, store.ForView)
	if err != nil {
		return err
	}
	pic.Name = "View of " + o.student.Name
	err = plans.Refit(r.Context(), a.Store, []store.Project{o.project}, func(s *store.Store) error {
		return s.KeepView(r.Context(), o.project.TeacherID, o.project.ID, o.student.ID, &pic, files)
	})
	if err != nil {
		return err
	}
	return kit.Go(w, r, "/s/"+v.Link+"/view")
}

// throughFrame returns what the frame shows in a photo, straight on and of the shape of the
// plan's drawing, as JPEG: inside the form's corners, or all of the photo without any.
func throughFrame(r *http.Request, b []byte, plan grid.Plan) ([]byte, error) {
	var jpg bytes.Buffer
	b, err := intake.Sane(r.Context(), b)
	look := func(img *image.RGBA) error {
		corners := plane.Quad(plane.Box(float64(img.Rect.Dx()), float64(img.Rect.Dy())))
		if text := r.FormValue("corners"); text != "" {
			pressed, err := accuracy.ParseCorners(text)
			if err != nil {
				return kit.AskAt("corners", "Set the four corners onto the corners of the frame.")
			}
			for i, q := range pressed { // they are shares of the photo, whatever size the tablet showed
				corners[i] = plane.Pt(q.X*float64(img.Rect.Dx()), q.Y*float64(img.Rect.Dy()))
			}
		}
		if seen := plane.Ring(corners[:]).Bounds(); min(seen.Width(), seen.Height()) < leastView {
			return kit.AskAt("corners", "The frame is small in this photo. Go nearer, until it nearly fills it.")
		}
		f := photos.SheetFrame(plan, viewSide)
		straight, err := picture.Rectify(img, corners, f.W, f.H)
		if err != nil {
			return kit.AskAt("corners", "The four corners lie across one another. Set each onto its corner of the frame.")
		}
		return jpeg.Encode(&jpg, straight, &jpeg.Options{Quality: 90})
	}
	if err == nil {
		err = intake.Use(r.Context(), b, look)
	}
	if picture.Unreadable(err) {
		return nil, kit.AskAt("view", "%s", kit.Said(err))
	}
	return jpg.Bytes(), err
}
