package front

import (
	"net/http"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/training"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// together is what the page of exercises for a whole class shows.
type together struct {
	Project store.Project
	Desk    kit.Desk
	Boxes   map[string]kit.SeenBox
	Kinds   []training.About
	Stairs  training.Stairs
	Picture string // its address; empty where there is none
}

// eyes shows exercises of the eye for the class together; without a picture those that
// need none.
func (a area) eyes(w http.ResponseWriter, r *http.Request, p store.Project, plan grid.Plan) error {
	v := together{Project: p, Desk: kit.NewDesk(p, plan, p.Picture, plan.Order(plan.Hand)), Boxes: map[string]kit.SeenBox{}, Kinds: training.ForAll(), Stairs: training.NewStairs()}
	if p.Picture != nil && plan.Frame != nil {
		read, err := a.Boxes(r.Context(), p, plan, p.Picture)
		if err != nil {
			return err
		}
		v.Boxes, v.Picture = kit.SeenBoxes(read), kit.PicturePath(p.Picture.ID, store.View)
	}
	return pages.Whole(w, r, "eyes.html", p.Name+" · eye training together", v)
}
