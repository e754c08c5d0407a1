package finish

import (
	"net/http"
	"slices"
	"strconv"

	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// slide is a finished drawing beside its picture.
type slide struct {
	CheckIn uint64
	Name    string // empty for those who did not agree to be named
}

// slidesView is what the slide show shows.
type slidesView struct {
	Project store.Project
	Slides  []slide
}

// slides shows the latest drawing of each student who was chosen beside the picture, for the
// projector. Names stand only below those who were ticked as having agreed.
func (a area) slides(w http.ResponseWriter, r *http.Request, h hanging) error {
	q := r.URL.Query()
	ticked := func(what string, id uint64) bool { return slices.Contains(q[what], strconv.FormatUint(id, 10)) }
	v := slidesView{Project: h.project}
	for _, one := range h.hands {
		if n := len(one.Photos); n > 0 && one.Says.Shown() && ticked("show", one.Student.ID) {
			s := slide{CheckIn: one.Photos[n-1].ID}
			if ticked("name", one.Student.ID) {
				s.Name = one.Student.Name
			}
			v.Slides = append(v.Slides, s)
		}
	}
	if len(v.Slides) == 0 {
		return kit.Ask("Tick at least one student whose drawing has a photo, then start the slide show.")
	}
	return pages.Whole(w, r, "slides.html", h.project.Name+" · slides", v)
}
