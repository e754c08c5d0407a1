package printroom

import (
	"cmp"
	"net/http"
	"slices"
	"time"

	"zestysketch/internal/core/reading"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// linksView is what the page of a project's student links shows.
type linksView struct {
	Project store.Project
	Rail    kit.Rail
	Open    int64
	Until   string // as typed
	Finest  reading.Finest
	Problem string
}

// links shows how many students' links open a project, and until when.
func (a area) links(w http.ResponseWriter, r *http.Request, p store.Project) error {
	v := linksView{Project: p}
	if p.LinksUntil != nil {
		v.Until = p.LinksUntil.Format(time.DateOnly)
	}
	return a.showLinks(w, r, http.StatusOK, v)
}

func (a area) showLinks(w http.ResponseWriter, r *http.Request, status int, v linksView) (err error) {
	v.Finest = cmp.Or(v.Project.Finest, reading.Thirds)
	v.Rail = kit.NewRail(v.Project, kit.StepPrint)
	if v.Open, err = a.Store.CountLinks(r.Context(), v.Project.ID); err != nil {
		return err
	}
	return pages.WholeStatus(w, r, "links.html", v.Project.Name+" · links", status, v)
}

// changeLinks ends every link of a project, makes new ones in their place, or
// keeps until when they open.
func (a area) changeLinks(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	ctx := r.Context()
	switch r.FormValue("do") {
	case "end":
		err = a.Store.EndLinks(ctx, p.TeacherID, p.ID)
	case "renew":
		err = a.Store.Transaction(ctx, func(s *store.Store) error { return renew(r, s, p) })
	case "until":
		day, bad := time.Parse(time.DateOnly, r.FormValue("until"))
		switch {
		case r.FormValue("until") == "":
			err = a.Store.LinksUntil(ctx, p.TeacherID, p.ID, nil)
		case bad != nil:
			v := linksView{Project: p, Until: r.FormValue("until"), Problem: "Write the last day as year, month and day, such as 2027-06-30, or leave it empty."}
			return a.showLinks(w, r, http.StatusUnprocessableEntity, v)
		default:
			err = a.Store.LinksUntil(ctx, p.TeacherID, p.ID, &day)
		}
	case "help":
		from, finest := reading.Help(r.FormValue("help")), reading.Finest(r.FormValue("finest"))
		if from.Step() < 0 || !slices.Contains(reading.Fractions, finest) {
			return kit.Ask("Choose where help begins: quarter marks, dots, words or lines; and the finest fraction: halves, quarters, thirds or tenths.")
		}
		by := reading.Source(r.FormValue("by"))
		if by != "" && by != reading.Borders {
			return kit.Ask("Choose the lines that are read: those a hand would draw, or the borders of tones.")
		}
		err = a.Store.SetHelp(ctx, p.TeacherID, p.ID, store.HelpWish{From: from, Finest: finest, By: by, Guess: r.FormValue("guess") != ""})
	default:
		return kit.Ask("Choose what to do with the links: renew them, end them, set their last day, or where help begins.")
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/links")
}

// renew ends every link and makes one for everybody in the class.
func renew(r *http.Request, s *store.Store, p store.Project) error {
	if err := s.EndLinks(r.Context(), p.TeacherID, p.ID); err != nil || p.Class == nil {
		return err
	}
	for _, student := range p.Class.Students {
		if _, err := s.Link(r.Context(), p, student.ID); err != nil {
			return err
		}
	}
	return nil
}
