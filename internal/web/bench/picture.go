package bench

import (
	"net/http"
	"strings"

	"github.com/go-chi/chi/v5"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// start is what the page for a new project shows.
type start struct{ Classes []store.Class }

const longestTitle = 80

func (a area) askNew(w http.ResponseWriter, r *http.Request) error {
	classes, err := a.Store.Classes(r.Context(), kit.Teacher(r).ID)
	if err != nil {
		return err
	}
	return pages.Whole(w, r, "new.html", "New project", start{classes})
}

func (a area) add(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	p := store.Project{TeacherID: kit.Teacher(r).ID, Name: strings.TrimSpace(strings.ToValidUTF8(r.FormValue("name"), "")), Looseness: store.Normal}
	if len([]rune(p.Name)) > longestTitle {
		return kit.Ask("Write a shorter name, of at most %d letters.", longestTitle)
	}
	class, err := a.Chosen(r)
	if err != nil {
		return err
	}
	p.ClassID = class
	picture, err := a.TakePicture(r, "picture", store.ForReference)
	if err != nil {
		return err
	}
	if p.Name == "" {
		p.Name = picture.Name
	}
	p.PictureID = &picture.ID
	if err := a.Store.AddProject(r.Context(), &p); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p.ID))
}

// changePicture gives a project another picture. A kept plan is made again for it.
func (a area) changePicture(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadForm(w, r); err != nil {
		return err
	}
	p, err := a.Project(r)
	if err != nil {
		return err
	}
	picture, err := a.TakePicture(r, "picture", store.ForReference)
	if err != nil {
		return err
	}
	if err := a.Store.SetPicture(r.Context(), p.TeacherID, p.ID, picture.ID); err != nil {
		return err
	}
	if kept, err := kit.PlanOf(r.Context(), a.Store, p); err != nil {
		return err
	} else if kept != nil {
		p.Picture = &picture
		if plan, err := grid.Make(withPicture(kept.Typed, p)); err == nil {
			if _, err := a.save(r, p, p.PlanVersion, plan); err != nil {
				return err
			}
		}
	}
	return kit.Go(w, r, kit.ProjectPath(p.ID))
}

func (a area) picture(w http.ResponseWriter, r *http.Request) error {
	id, err := kit.ID(r, "picture")
	if err != nil {
		return err
	}
	f, err := a.Store.PictureFile(r.Context(), kit.Teacher(r).ID, id, store.Role(chi.URLParam(r, "role")))
	if err != nil {
		return err
	}
	w.Header().Set("Content-Type", f.Kind)
	w.Header().Set("Cache-Control", "private, max-age=86400, immutable") // a picture's number never gets other bytes
	_, err = w.Write(f.Bytes)
	return err
}
