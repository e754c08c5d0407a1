package wall

import (
	"errors"
	"fmt"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"zestysketch/internal/core/lesson"
	"zestysketch/internal/room"
	"zestysketch/internal/store"
	"zestysketch/internal/web/kit"
)

// roadView is what the road's page shows.
type roadView struct {
	Project store.Project
	Rail    kit.Rail
	Road    lesson.Road
	Laid    []laidView
	Over    float64
	Left    float64 // minutes to draw, where the lessons are Known
	Known   bool
	Problem string
	Offers  []offer
	Taking  *taking // a road that is looked at before it is taken
	MayKeep bool    // it may be kept among the teacher's own
}

// stageView is a stage with the tools that it may have cautions for.
type stageView struct {
	lesson.Stage
	Tools []lesson.Tool
}

// Stages returns all stages, also those that are not on the road.
func (v roadView) Stages() (all []stageView) {
	for _, s := range v.Road.Stages {
		all = append(all, stageView{s, lesson.Tools})
	}
	return all
}

// offer is a road that the project may take: that of a way of working, or one of the teacher's own.
type offer struct {
	Key, Name, Good string
	Own             uint64
	road            lesson.Road
}

// laidView is one lesson with what is done in it.
type laidView struct {
	lesson.Laid
	Date string
}

// newRoadView lays the road over the class's lessons to come.
func (a area) newRoadView(r *http.Request, p store.Project, road lesson.Road) (v roadView, err error) {
	v = roadView{Project: p, Rail: kit.NewRail(p, kit.StepDraw), Road: road, MayKeep: kit.Owns(r)}
	laid, over := lesson.Lay(road.On(), room.LessonsOf(p.Class))
	v.Over = over
	v.Left, v.Known = room.TimeToDraw(p, kit.Clock(r), time.Now())
	for _, l := range laid {
		if len(l.Parts) > 0 {
			v.Laid = append(v.Laid, laidView{l, kit.Clock(r).Weekday(l.Day)})
		}
	}
	v.Offers, err = a.offers(r, p)
	return v, err
}

// Goals returns the objectives, and an empty row for one more.
func (v roadView) Goals() []lesson.Objective {
	return append(slices.Clone(v.Road.Goals()), lesson.Objective{})
}

// Measures, AddKinds and Mediums return what may be chosen.
func (v roadView) Measures() []lesson.Measure   { return lesson.Measures }
func (v roadView) AddKinds() []lesson.StageKind { return lesson.StageKinds() }
func (v roadView) Mediums() []lesson.Medium     { return lesson.Mediums() }

// offers lists the roads that may be taken.
func (a area) offers(r *http.Request, p store.Project) (list []offer, err error) {
	for _, w := range lesson.Ways() {
		list = append(list, offer{Key: "way-" + string(w), Name: w.Name(), Good: w.Good(), road: w.Road()})
	}
	if !kit.Owns(r) {
		return list, nil // what else the owner keeps was not shared
	}
	own, err := a.Store.OwnRoads(r.Context(), p.TeacherID)
	for _, o := range own {
		list = append(list, offer{Key: fmt.Sprintf("own-%d", o.ID), Name: o.Name, Good: o.Road.Way.Good(), Own: o.ID, road: o.Road.Named()})
	}
	return list, err
}

func (a area) showRoad(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	v, err := a.newRoadView(r, p, p.EffectiveRoad())
	if err != nil {
		return err
	}
	if asked := r.URL.Query().Get("take"); asked != "" {
		if v.Taking, err = a.foresee(r, v, asked); err != nil {
			return err
		}
	}
	return pages.Whole(w, r, "road.html", p.Name+" · road", v)
}

// setRoad keeps the road as the form has it, with one change of its order where a button
// for that was pressed.
func (a area) setRoad(w http.ResponseWriter, r *http.Request, p store.Project) (err error) {
	road, err := readRoad(r, p.EffectiveRoad())
	if err == nil {
		road = rearranged(road, r.FormValue("do"))
		road, err = road.Check()
	}
	if err != nil {
		if kit.IsFragment(r) {
			return kit.AskAt(fieldOf(err), "%s", kit.Said(err)) // what was typed stays where it is
		}
		v, failed := a.newRoadView(r, p, road)
		if failed != nil {
			return failed
		}
		v.Problem = kit.Said(err)
		return pages.WholeStatus(w, r, "road.html", p.Name+" · road", http.StatusUnprocessableEntity, v)
	}
	if err := a.Store.SetRoad(r.Context(), p.TeacherID, p.ID, road); err != nil {
		return err
	}
	return kit.Go(w, r, kit.ProjectPath(p)+"/road")
}

// readRoad reads the form over the road that there is: what the form does not have stays.
func readRoad(r *http.Request, road lesson.Road) (lesson.Road, error) {
	road.Outline, road.Darks, road.Helpers, road.Invent = r.FormValue("outline"), r.FormValue("darks"), r.FormValue("helpers") != "", r.FormValue("invent") != ""
	road.Stages = slices.Clone(road.Stages)
	var first error
	for i := range road.Stages {
		if err := readStage(r, &road.Stages[i]); first == nil {
			first = err
		}
	}
	if r.Form.Has("parts") && road.Way.Named() {
		road.Parts = linesOf(r.FormValue("parts"))
	}
	if r.Form.Has("extension") {
		road.Extension = linesOf(r.FormValue("extension"))
	}
	if r.Form.Has("goal_words") {
		road.Objectives = readObjectives(r)
	}
	return road, first
}

func readStage(r *http.Request, s *lesson.Stage) (err error) {
	name := func(what string) string { return what + "_" + string(s.ID) }
	field := func(what string) string { return kit.Tidy(r.FormValue(name(what))) }
	has := func(what string) bool { return r.Form.Has(name(what)) }
	usual := lesson.NewStage(s.Kind)
	s.On, s.Checkpoint = field("on") != "", field("check")
	if has("title") {
		if s.Title = field("title"); s.Title == usual.Name() && s.Kind != lesson.Other {
			s.Title = ""
		}
	}
	if has("words") {
		if s.Words = field("words"); s.Words == usual.Board() {
			s.Words = ""
		}
	}
	if s.Minutes, err = strconv.ParseFloat(field("minutes"), 64); err != nil {
		s.Minutes = -1 // said by Check, if the stage is on
	}
	if has("care") {
		s.Care = slices.DeleteFunc(slices.Clone(lesson.Tools), func(t lesson.Tool) bool { return !slices.Contains(r.Form[name("care")], string(t)) })
		if slices.Equal(s.Care, usual.Tools()) {
			s.Care = nil
		}
	}
	if !has("needs") {
		return nil
	}
	s.Needs = []lesson.Material{}
	for _, line := range linesOf(r.FormValue(name("needs"))) {
		m, err := lesson.ParseMaterial(line)
		if err != nil {
			return lesson.NewStageError(s.ID, "needs", err.Error())
		}
		s.Needs = append(s.Needs, m)
	}
	if slices.Equal(s.Needs, usual.Materials()) {
		s.Needs = nil
	}
	return nil
}

// readObjectives reads the rows that have words.
func readObjectives(r *http.Request) (list []lesson.Objective) {
	for i, words := range r.Form["goal_words"] {
		at := func(name string) string {
			if all := r.Form["goal_"+name]; i < len(all) {
				return kit.Tidy(all[i])
			}
			return ""
		}
		o := lesson.Objective{Code: at("code"), Level: strings.ToLower(at("level")), Words: kit.Tidy(words), Measure: lesson.Measure(at("measure"))}
		if o.Words == "" {
			continue
		}
		if o.Measure != lesson.ByEye {
			o.Within, _ = strconv.ParseFloat(at("within"), 64) // what is no number is told by Check
		}
		list = append(list, o)
	}
	return lesson.Coded(list)
}

// rearranged does what a button beside a stage says: up:ID, down:ID, away:ID, twice:ID,
// add:KIND or in:MEDIUM.
func rearranged(road lesson.Road, do string) lesson.Road {
	what, which, _ := strings.Cut(do, ":")
	switch what {
	case "add":
		return road.Added(lesson.StageKind(which))
	case "in":
		return road.In(lesson.Medium(which))
	}
	return road.Moved(lesson.StageID(which), what)
}

// linesOf returns the lines that are not empty.
func linesOf(typed string) (lines []string) {
	for _, l := range strings.Split(typed, "\n") {
		if l = kit.Tidy(l); l != "" {
			lines = append(lines, l)
		}
	}
	return lines
}

// fieldOf names the road's field that an error is about, empty for none.
func fieldOf(err error) string {
	var at lesson.StageError
	if !errors.As(err, &at) {
		return ""
	}
	return at.Field + "_" + string(at.ID)
}
