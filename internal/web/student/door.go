package student

import (
	"errors"
	"net/http"
	"strconv"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// door is where a student types the code of the lesson and chooses their name.
type door struct {
	Code  string
	Wrong string
	Class string
	Names []store.Student // where the code stands
}

func (a area) showDoor(w http.ResponseWriter, r *http.Request) error {
	return pages.Whole(w, r, "door.html", "Your page", door{})
}

// enter opens the page of who chose their name, or shows the names of the class
// whose code was typed. A wrong code counts.
func (a area) enter(w http.ResponseWriter, r *http.Request) error {
	if err := kit.ReadTick(w, r); err != nil {
		return err
	}
	d := door{Code: store.ReadCode(r.FormValue("code"))}
	leave, err := a.Links.Enter(r.Context(), a.AddressOf(r)) // before it is known whether the code is right
	if err != nil {
		return err
	}
	defer leave()
	p, err := a.Store.Coded(r.Context(), d.Code)
	if errors.Is(err, store.ErrNotFound) {
		if err := a.Links.Wrong(r.Context(), a.AddressOf(r)); err != nil {
			return err
		}
		d.Wrong = "No lesson has this code now. Look at the screen again: it is six letters, and a new one is made for every lesson."
		return pages.WholeStatus(w, r, "door.html", "Your page", http.StatusUnprocessableEntity, d)
	}
	if err != nil {
		return err
	}
	id, _ := strconv.ParseUint(r.FormValue("student"), 10, 63)
	for _, s := range p.Class.Students {
		if s.ID != id {
			continue
		}
		link, err := a.Store.Link(r.Context(), p, s.ID)
		if err != nil {
			return err
		}
		return kit.Go(w, r, "/s/"+link)
	}
	d.Class, d.Names = p.Class.Name, p.Class.Students
	return pages.Whole(w, r, "door.html", "Your page", d)
}
