package bench

import (
	"errors"
	"fmt"
	"net/http"
	"strconv"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"
	"zestysketch/internal/plans"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// picturesView is what the Picture step shows.
type picturesView struct {
	Main     *store.Picture
	Facts    *picture.Facts
	PPI      int    // pixels a printed inch, 0 without a plan
	Enough   string // whether that is enough
	Trim     set    // what trims the border away, nil without one or where it is away already
	Trimmed  bool   // the frame leaves the border out
	OnOffer  []store.Picture
	Library  []store.Picture
	Frames   []store.Frame
	Students []studentView
	Hard     *reading.Hard
	Way      lesson.Way
	Suits    string // why the project's way suits the picture; empty where another would
	Balance  string // of the pictures on offer, from easy to hard
}

// within reports whether a frame lies inside another, to a pixel.
func within(f, o grid.Frame) bool {
	for _, c := range f.Corners() {
		if at := o.FromPicture(c); at.X < -1 || at.Y < -1 || at.X > o.Size[0]+1 || at.Y > o.Size[1]+1 {
			return false
		}
	}
	return true
}

// studentView is one student's own picture or frame.
type studentView struct {
	store.Student
	Own  string // "p12", "f3" or empty
	View string // where they look at what they photographed from their seat; empty without
}

// offerTrim offers to take a picture's border off, where it has one that is not off.
func (v *picturesView) offerTrim(b *bench) {
	if v.Facts == nil || !v.Facts.Bordered(v.Main.Width, v.Main.Height) {
		return
	}
	in := v.Facts.Inner
	inner := grid.Frame{Centre: plane.Pt(float64(in[0])+float64(in[2])/2, float64(in[1])+float64(in[3])/2), Size: [2]float64{float64(in[2]), float64(in[3])}}
	if v.Trimmed = b.Plan != nil && b.Plan.Frame != nil && within(*b.Plan.Frame, inner); !v.Trimmed {
		v.Trim = set{"frame": inner.String()}
	}
}

// rateOffers says how hard the pictures on offer are, each and beside the others.
func (a area) rateOffers(r *http.Request, v *picturesView, p store.Project) error {
	var levels []int
	for i, pic := range v.OnOffer {
		h, err := a.Hard(r.Context(), p.TeacherID, pic)
		if err != nil {
			return err
		}
		v.OnOffer[i].Hard, levels = &h, append(levels, h.Level)
		if v.Main != nil && pic.ID == v.Main.ID {
			v.Hard = &h
		}
	}
	v.Balance = reading.Balance(levels)
	v.Way = p.EffectiveRoad().Way
	if v.Hard != nil && v.Facts != nil {
		if way, why := lesson.Suited(v.Facts, v.Hard.Level); way == v.Way {
			v.Suits = why
		}
	}
	return nil
}

func (a area) newPicturesView(r *http.Request, b *bench) (*picturesView, error) {
	v, ctx, p := &picturesView{Main: b.Project.Picture}, r.Context(), b.Project
	if v.Main != nil {
		v.Facts = v.Main.Facts
		v.offerTrim(b)
	}
	if b.Plan != nil && b.Plan.Frame != nil {
		v.PPI, v.Enough = int(b.Plan.PixelsPerInch()), b.Plan.Sharpness()
	}
	var err error
	if v.OnOffer, err = a.Store.ProjectPictures(ctx, p.ID); err != nil {
		return nil, err
	}
	if err := a.rateOffers(r, v, p); err != nil {
		return nil, err
	}
	if kit.Owns(r) {
		if v.Library, err = a.Store.Library(ctx, p.TeacherID, ""); err != nil {
			return nil, err
		}
	}
	if v.Frames, err = a.Store.Frames(ctx, p.ID); err != nil || p.Class == nil {
		return v, err
	}
	assigned, err := a.Store.Assignments(ctx, p.ID)
	for _, s := range p.Class.Students {
		one := studentView{Student: s, Own: ownOf(assigned[s.ID])}
		if pic := assigned[s.ID].Picture; pic != nil && pic.Purpose == store.ForView {
			one.View = kit.PicturePath(pic.ID, store.View)
		}
		v.Students = append(v.Students, one)
	}
	return v, err
}

func ownOf(a store.Assignment) string {
	switch {
	case a.FrameID != nil:
		return fmt.Sprintf("f%d", *a.FrameID)
	case a.PictureID != nil:
		return fmt.Sprintf("p%d", *a.PictureID)
	}
	return ""
}

// addPicture puts another picture on offer. The first one is drawn from at once,
// and any other where the form asks for it.
func (a area) addPicture(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	picture, _, err := a.chosenPicture(r)
	if err != nil {
		return err
	}
	if p.PictureID == nil || r.FormValue("use") != "" {
		return a.drawFrom(w, r, p, picture)
	}
	if err := a.Store.OfferPicture(r.Context(), p.TeacherID, p.ID, picture.ID); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"?step=picture")
}

// usePicture makes one of the pictures on offer the one that the plan is for.
func (a area) usePicture(w http.ResponseWriter, r *http.Request, p store.Project, picture store.Picture) error {
	return a.drawFrom(w, r, p, picture)
}

// offered returns the project and the picture of the address.
func (a area) offered(r *http.Request) (store.Project, store.Picture, error) {
	p, err := a.Project(r)
	if err != nil {
		return p, store.Picture{}, err
	}
	id, err := kit.ID(r, "picture")
	if err != nil {
		return p, store.Picture{}, err
	}
	picture, err := a.Store.OfferedPicture(r.Context(), p.ID, id)
	return p, picture, err
}

// drawFrom gives a project another picture. A kept plan is made again for it.
func (a area) drawFrom(w http.ResponseWriter, r *http.Request, p store.Project, picture store.Picture) error {
	err := plans.ChangePicture(r.Context(), a.Store, p, picture)
	if problems := grid.ProblemsOf(err); problems != nil {
		return kit.Ask("“%s” cannot take this picture's place as the plan stands: %v. Make the plan's sizes fit first, or start a new project from it.", picture.Name, problems)
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"?step=picture")
}

func (a area) withdraw(w http.ResponseWriter, r *http.Request, p store.Project, picture store.Picture) (err error) {
	err = plans.Refit(r.Context(), a.Store, []store.Project{p}, func(s *store.Store) error {
		return s.WithdrawPicture(r.Context(), p.TeacherID, p.ID, picture.ID)
	})
	if errors.Is(err, store.ErrTaken) {
		return kit.Ask("The plan is made for “%s”. Draw from another picture first, then take this one away.", picture.Name)
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"?step=picture")
}

// assign gives a student a picture or frame of their own, or takes it back.
func (a area) assign(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	student, err := kit.ID(r, "student")
	if err != nil {
		return err
	}
	own := store.Assignment{ProjectID: p.ID, StudentID: student}
	if choice := r.FormValue("own"); choice != "" {
		id, err := strconv.ParseUint(choice[1:], 10, 63)
		switch {
		case err != nil || choice[0] != 'p' && choice[0] != 'f':
			return kit.Ask("Choose one of the pictures or frames of this project.")
		case choice[0] == 'p':
			own.PictureID = &id
		default:
			own.FrameID = &id
		}
	}
	err = plans.Refit(r.Context(), a.Store, []store.Project{p}, func(s *store.Store) error { return s.Assign(r.Context(), p.TeacherID, own) })
	if err != nil {
		return err
	}
	if kit.IsFragment(r) {
		w.WriteHeader(http.StatusNoContent)
		return nil
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"?step=picture")
}

func (a area) picture(w http.ResponseWriter, r *http.Request, id uint64) (err error) {
	f, err := a.Store.PictureBlob(r.Context(), kit.Owner(r), id, store.Role(chi.URLParam(r, "role")))
	if err != nil {
		return err
	}
	w.Header().Set("Cache-Control", "private, max-age=86400, immutable") // a picture's number never gets other bytes
	return kit.SendBlob(w, r, f)
}
