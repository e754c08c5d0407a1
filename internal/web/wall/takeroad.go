package wall

import (
	"errors"
	"fmt"
	"net/http"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// taking is a road before it is taken: what of the work done stays, and what would be
// history, in numbers.
type taking struct {
	offer
	Says []string
}

// Stages returns the stages of the road that is looked at.
func (t taking) Stages() []lesson.Stage { return t.road.On() }

// offered returns one of the offers.
func offered(list []offer, key string) (offer, error) {
	for _, o := range list {
		if o.Key == key {
			return o, nil
		}
	}
	return offer{}, kit.Ask("Choose a way of working, or one of your own roads, from the list.")
}

// foresee says what taking a road does to what the class has done.
func (a area) foresee(r *http.Request, v roadView, key string) (*taking, error) {
	o, err := offered(v.Offers, key)
	if err != nil {
		return nil, err
	}
	t := taking{offer: o}
	if err := a.withPoints(r, v.Project, &t.road); err != nil {
		return nil, err
	}
	ticks, err := a.Store.Ticks(r.Context(), v.Project.ID)
	if err != nil {
		return nil, err
	}
	state, err := a.Store.RoadState(r.Context(), v.Project.ID, 0)
	if err != nil {
		return nil, err
	}
	t.Says = append(t.tickWords(v.Road, ticks), t.stageWords(v.Road, state)...)
	if t.road.Way.Named() && len(t.road.Parts) == 0 {
		t.Says = append(t.Says, "No "+t.road.Way.Unit().Many+" are named yet: press them as landmarks under Check, or write them below. Until then boxes are counted.")
	}
	return &t, nil
}

// tickWords says what becomes of the ticks.
func (t taking) tickWords(now lesson.Road, ticks map[uint64]map[string]bool) []string {
	stay, history := 0, 0
	named := t.road.Counts() != nil
	for _, done := range ticks {
		for label := range done {
			if lesson.IsPart(label) == named {
				stay++
			} else {
				history++
			}
		}
	}
	switch {
	case stay+history == 0:
		return []string{"Nobody has ticked anything yet: nothing is lost."}
	case history == 0:
		return []string{fmt.Sprintf("All %d ticks go on counting.", stay)}
	}
	return []string{fmt.Sprintf("%d ticks go on counting. %d are kept as history: they count again when %s are counted again.", stay, history, now.Unit().Many)}
}

// stageWords says what becomes of the stages done and the verdicts given.
func (t taking) stageWords(now lesson.Road, state store.RoadState) (says []string) {
	stay, history := 0, 0
	for _, done := range state.Done {
		for id := range done {
			if _, there := t.road.Find(id); there {
				stay++
			} else {
				history++
			}
		}
	}
	if stay+history > 0 {
		says = append(says, fmt.Sprintf("Of %d stages that students have done, %d stand on this road as well; %d are history.", stay+history, stay, history))
	}
	return says
}

// withPoints names the points to be counted by the project's landmarks, where its way of
// working counts points and none are named.
func (a area) withPoints(r *http.Request, p store.Project, road *lesson.Road) error {
	if !road.Way.Named() || len(road.Parts) > 0 {
		return nil
	}
	marks, err := a.Store.Landmarks(r.Context(), p.ID, p.PictureID)
	for _, m := range marks {
		road.Parts = append(road.Parts, m.Name)
	}
	return err
}

// takeRoad gives the project another road.
func (a area) takeRoad(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	list, err := a.offers(r, p)
	if err != nil {
		return err
	}
	o, err := offered(list, r.FormValue("take"))
	if err != nil {
		return err
	}
	if err := a.withPoints(r, p, &o.road); err != nil {
		return err
	}
	road, err := o.road.Check()
	if err != nil {
		return kit.Ask("%s", kit.Said(err))
	}
	if err := a.Store.SetRoad(r.Context(), p.TeacherID, p.ID, road); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/road")
}

// longestRoadName is how long the name of a teacher's own road may be, in letters.
const longestRoadName = 60

// keepRoad keeps the project's road among the teacher's own, under a name.
func (a area) keepRoad(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	name := kit.Tidy(r.FormValue("name"))
	if name == "" || len([]rune(name)) > longestRoadName {
		return kit.AskAt("name", "Give the road a name of at most %d letters, such as “Charcoal, two weeks”.", longestRoadName)
	}
	err = a.Store.KeepRoad(r.Context(), store.OwnRoad{TeacherID: p.TeacherID, Name: name, Road: p.EffectiveRoad()})
	if errors.Is(err, store.ErrManyRoads) {
		return kit.AskAt("name", "You keep many roads already. Drop one that you no longer use.")
	}
	if err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/road")
}

// dropRoad forgets one of the teacher's own roads; projects that took it keep theirs.
func (a area) dropRoad(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	id, err := kit.Number(r.FormValue("road"))
	if err != nil {
		return err
	}
	if err := a.Store.DropRoad(r.Context(), p.TeacherID, id); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/road")
}
