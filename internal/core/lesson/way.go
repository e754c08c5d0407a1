package lesson

import (
	"fmt"
	"maps"
	"math"
	"slices"

	"zestysketch/internal/core/grid"
)

// Way is a way of working: what the hand goes by from picture to drawing.
type Way string

// The ways of working.
const (
	ByBox      Way = ""         // measured squares or equal parts
	ByQuarters Way = "quarters" // half and quarter marks, loosely
	ByOverlay  Way = "overlay"  // of the same size, the picture laid on
	BySight    Way = "sight"    // side by side, heights carried across
	ByStrips   Way = "strips"   // upside down, an inch at a time
	ByTracing  Way = "trace"    // closed areas traced and transferred
	ByPointing Way = "pointing" // angle and distance from a fixed point
	ByViews    Way = "views"    // several views between guidelines
	ByFold     Way = "fold"     // outward from a centre fold
	ByTurn     Way = "turn"     // one half, and the same turned half round
	ByTiles    Way = "tiles"    // tiles turned and set elsewhere
	FromLife   Way = "life"     // through a frame with threads
)

// Unit is what progress is counted in.
type Unit struct{ One, Many string }

// wayInfo is what is fixed of a way of working (common practice; minutes and words ours).
type wayInfo struct {
	way   Way
	name  string
	good  string // what it is good for
	unit  Unit
	parts []string          // names to begin with, where progress is not counted in boxes
	named bool              // progress is counted in parts with names
	plan  map[string]string // how its plan begins, by the fields of a request
	darks string
	road  []Stage
}

// step is a stage as a way of working has it: usual but for its name and words.
func step(k StageKind, title, words string, minutes float64, check string) Stage {
	return Stage{Kind: k, On: true, Minutes: minutes, Checkpoint: check, Title: title, Words: words}
}

func (s Stage) with(needs ...Material) Stage {
	s.Needs = needs
	return s
}

func (s Stage) care(tools ...Tool) Stage {
	s.Care = tools
	return s
}

// sameSize begins a plan that is as large as the picture.
func sameSize(parts string) map[string]string {
	return map[string]string{"method": "parts", "parts": parts, "scale": "1", "paper": ""}
}

var (
	picking  = step(Pick, "", "", 10, "")
	checking = step(Check, "", "", 10, "The outline is approved.")
	toning   = step(Tone, "", "", 60, "")
	looking  = step(Reflect, "", "", 10, "")
	erasing  = step(Erase, "", "", 10, "")
	inking   = step(Ink, "", "", 30, "")

	// byEye is what is drawn with where nothing is gridded.
	byEye = []Material{{"printed picture", 1, 0.1, true}, {"pencil", 1, 0.2, false}, {"sharpener", 0.25, 0, false}, {"scrap paper", 1, 0.1, true}}
)

var wayInfos = []wayInfo{
	{way: ByBox, name: "Box by box", good: "any picture; enlarging by the ratio of the squares", unit: Unit{"box", "boxes"}},
	{way: ByQuarters, name: "Quarter marks, loose", good: "a large canvas, charcoal, a lively drawing",
		unit: Unit{"part", "parts"}, plan: map[string]string{"method": "quarters", "parts": "4"}, darks: "last",
		road: []Stage{
			picking, step(Compose, "", "Turn the window on the picture: the frame may lie at an angle.", 15, ""),
			step(MarkUp, "Fold and mark the quarters", "Fold in half and in half again, both ways. Mark the edges alone, barely.", 10, "Half and quarter marks stand on all four sides.").with(
				Material{"large paper or canvas", 1, 0.1, true}, Material{"soft charcoal", 1, 0.2, true}),
			step(Draw, "Block in, quarter by quarter", "Charcoal held far back, a loose arm. Largest shapes first; an L of paper hides the rest.", 60, "").with(
				Material{"soft charcoal", 1, 0.2, true}, Material{"L of paper", 1, 0.1, false}, Material{"sheet for the floor", 0.25, 0, false}).care(Dust),
			step(Check, "Step back", "Step back, turn the sheet: does it balance?", 10, "The large shapes are in their places."),
			step(Tone, "Lights, middles, darks", "Lightly first; the darkest charcoal last.", 60, "").with(
				Material{"soft charcoal", 1, 0.2, true}, Material{"hard charcoal", 1, 0.2, true}, Material{"kneaded eraser", 1, 0.1, false}).care(Dust, Fixative), looking}},
	{way: ByOverlay, name: "Same size, laid over", good: "checking by eye; a first drawing without measuring", unit: Unit{"point", "points"}, named: true, plan: sameSize("2x2"), road: []Stage{
		picking, step(MarkUp, "Cut the sheet to the picture", "The sheet is exactly as large as the picture.", 10, "The picture covers the sheet, edge on edge.").with(
			Material{"drawing paper", 1, 0.1, true}, Material{"scissors", 0.5, 0, false}).care(Trimmer, Scissors),
		step(Draw, "Lay, hover, lift, dot", "Lay the picture on the sheet, hover at a point, lift, dot. Then join the dots.", 60, "").with(byEye...),
		step(Check, "Lay it over once more", "Lay the picture on the drawing. Which point is off?", 10, "The outline is approved."), toning, looking}},
	{way: BySight, name: "Sight-size", good: "proportion, drawing upright beside the picture", unit: Unit{"point", "points"}, named: true, plan: sameSize("2x4"), road: []Stage{
		picking, step(MarkUp, "Set both side by side", "Picture and paper upright, at one height and one size. Mark where you stand.", 15, "Top and bottom lines stand level with the picture's.").with(
			Material{"drawing paper", 1, 0.1, true}, Material{"board", 1, 0, false}, Material{"roll of tape", 0.25, 0, false}, Material{"plumb line", 0.5, 0, false}),
		step(Draw, "Carry the heights across", "Carry each height straight across, then measure in from the plumb line.", 90, "").with(byEye...),
		checking, toning, looking}},
	{way: ByStrips, name: "Upside down by strips", good: "seeing shapes instead of names of things",
		unit: Unit{"strip", "strips"}, plan: sameSize("1x8"), road: []Stage{
			picking, step(MarkUp, "Turn and cover", "Turn picture and paper upside down. Cover all but the first inch.", 10, "").with(
				Material{"drawing paper", 1, 0.1, true}, Material{"cover sheets", 2, 0.1, true}, Material{"pencil", 1, 0.2, false}),
			step(Draw, "Draw strip by strip", "About an inch at a time. Past the middle the picture moves to the other side of the drawing.", 60, ""),
			step(Check, "Turn both right way up", "Side by side, right way up: what differs?", 10, "The outline is approved."), toning, looking}},
	{way: ByTracing, name: "Trace and transfer", good: "a detailed picture, carried to good paper",
		unit: Unit{"area", "areas"}, named: true, plan: sameSize("4x4"),
		parts: []string{"Darkest areas", "Dark areas", "Middle areas", "Light areas"}, road: []Stage{
			picking, step(Draw, "Trace the closed areas", "Every area is a closed shape that could be filled. Thin rims have two edges.", 45, "Every area is closed.").with(
				Material{"printed picture", 1, 0.1, true}, Material{"tracing paper", 1, 0.1, true}, Material{"pencil", 1, 0.2, false}).care(Window, LightBox),
			step(Transfer, "", "", 30, "Nothing is missing: the tape may come off."), inking, toning, looking}},
	{way: ByPointing, name: "Angle and distance", good: "enlarging far; solid models", unit: Unit{"point", "points"}, named: true, road: []Stage{
		picking, step(MarkUp, "Set the fixed point", "Mark the fixed point and the zero line on both. Read each point's turn and distance.", 15, "Fixed point and zero line agree on both.").with(
			Material{"protractor", 1, 0.1, false}, Material{"long ruler or string", 1, 0.1, false}, Material{"drawing paper", 1, 0.1, true}),
		step(Draw, "Point by point", "Keep the angle, multiply the distance, dot. Join the dots at the end.", 60, "").with(byEye...),
		step(Check, "Measure three points again", "Measure three points again from the fixed point.", 10, "The outline is approved."), toning, looking}},
	{way: ByViews, name: "Several views between guidelines", good: "a solid thing seen from all sides, for modelling",
		unit: Unit{"view", "views"}, named: true, parts: []string{"Front", "Left side", "Right side", "Back"},
		road: []Stage{
			step(Pick, "Gather the views", "Front, both sides, back: all of one thing.", 15, ""),
			step(MarkUp, "Rule the guidelines", "One top line and one bottom line for all views; further lines for what repeats.", 15, "All guidelines are level."),
			step(Draw, "View by view", "Finish one view first; the others take their heights from its lines.", 90, "").with(byEye...),
			step(Check, "", "Does every part stand at one height in all views?", 10, "The views agree."), inking,
			step(Erase, "Erase the guidelines", "Outside the views first. Hold the paper flat.", 10, ""), looking}},
	{way: ByFold, name: "Fold-line symmetry", good: "a subject whose halves match", unit: Unit{"box", "boxes"}, plan: map[string]string{"method": "parts", "parts": "4x4"}, road: []Stage{
		picking, step(MarkUp, "Fold the centre", "Fold the sheet once and open it: the fold is the middle line.", 10, "The fold runs through the middle."),
		step(Draw, "One half, then the other", "Outward from the fold. What stands left stands right, equally far away.", 60, ""),
		step(Check, "Fold and look", "Fold it against the light: do the halves match?", 10, "Both halves match."),
		step(Tone, "Patterns and colours, mirrored", "Each pattern and each colour stands on both sides.", 60, ""), looking}},
	{way: ByTurn, name: "Half-turn symmetry", good: "a pattern that looks the same upside down", unit: Unit{"box", "boxes"}, plan: map[string]string{"method": "parts", "parts": "4x4"}, road: []Stage{
		picking, step(MarkUp, "Mark the middle", "Both diagonals cross in the middle: everything turns about that point.", 10, "The middle is marked on both papers."),
		step(Draw, "One half, then turn", "Draw one half. Turn the sheet upside down and draw the same again, box by box.", 60, ""),
		step(Check, "Turn and look", "Turn the sheet half round: does it look the same?", 10, "It looks the same upside down."),
		step(Tone, "Patterns and colours, turned", "Each pattern and each colour comes twice, once turned half round.", 60, ""), looking}},
	{way: ByTiles, name: "Rearranged tiles", good: "an abstract picture made of a finished one", unit: Unit{"tile", "tiles"}, road: []Stage{
		step(Pick, "", "A finished line picture.", 10, ""), step(MarkUp, "", "One grid on the picture, an equal one on a second sheet.", 20, "Both grids are equal.").with(
			Material{"drawing paper", 1, 0.1, true}, Material{rulers, 1, 0.1, false}, Material{"pencil", 1, 0.2, false}),
		step(Draw, "Trace tile by tile", "Trace a tile, turn or flip it, press it into its new place. Nothing stays in its own.", 60, "").with(
			Material{"printed picture", 1, 0.1, true}, Material{"tracing paper", 1, 0.1, true}, Material{"soft base", 1, 0, false}),
		step(Other, "Close the open lines", "Lengthen each loose end straight on until it meets a line.", 20, "Every area is closed."), erasing, inking,
		step(Tone, "Colour the areas", "Spread each colour over the picture; leave some areas white.", 60, ""), looking}},
	{way: FromLife, name: "From life through a string frame", good: "drawing a real thing", unit: Unit{"box", "boxes"}, road: []Stage{
		step(Pick, "Set up the thing and the frame", "The frame stands still between eye and thing. Mark your seat.", 15, ""),
		step(MarkUp, "", "As many boxes as the frame has between its threads.", 20, "Counts agree with the frame.").with(
			Material{"frame with threads", 0.25, 0, false}, Material{"drawing paper", 1, 0.1, true}, Material{rulers, 1, 0.1, false}, Material{"pencil", 1, 0.2, false}),
		step(Other, "Photograph your view", "From your own seat, through the frame: your drawing is checked against this picture.", 10, "").care(Photos),
		step(Draw, "Box by box, through the threads", "One eye closed, the head still. One box of threads at a time.", 90, ""), checking, toning, looking}},
}

func (w Way) info() wayInfo {
	for _, i := range wayInfos {
		if i.way == w {
			return i
		}
	}
	return wayInfos[0]
}

// Ways lists the ways of working, box by box first.
func Ways() (all []Way) {
	for _, i := range wayInfos {
		all = append(all, i.way)
	}
	return all
}

// Name, Good, Unit and Plan return what a way of working is called, what it is good for, what
// progress is counted in, and how its plan begins, by the fields of a request: nothing for as
// it would be. Named reports whether its parts have names.
func (w Way) Name() string { return w.info().name }
func (w Way) Good() string { return w.info().good }
func (w Way) Unit() Unit   { return w.info().unit }
func (w Way) Named() bool  { return w.info().named }
func (w Way) Plan() map[string]string {
	plan := maps.Clone(w.info().plan)
	if plan != nil { // parts have no squares
		plan["reference_square"], plan["sheet_square"] = "", ""
	}
	return plan
}

// StripMM is about how broad a strip of the picture is where it is drawn by strips: an inch (common practice).
const StripMM = 25.4

// PlanFor returns Plan for a reference so high, in millimetres: strips are about an inch.
func (w Way) PlanFor(high float64) map[string]string {
	plan := w.Plan()
	if w == ByStrips {
		plan["parts"] = fmt.Sprintf("1x%d", max(2, int(math.Round(high/StripMM))))
	}
	return plan
}

// Order returns the boxes of a plan in the order of drawing: upside down, what was last is on top, and first.
func (r Road) Order(p grid.Plan) []grid.Cell {
	order := p.Order(p.Hand)
	if r.Way == ByStrips {
		slices.Reverse(order)
	}
	return order
}

// Road returns the usual road of a way of working.
func (w Way) Road() Road {
	i := w.info()
	r := Road{Way: w, Parts: i.parts, Stages: i.road, Outline: "first", Darks: i.darks}
	if r.Darks == "" {
		r.Darks = "first"
	}
	if i.road == nil { // all of the usual stages, some of them off
		for _, one := range stageInfos {
			if one.kind != Other {
				r.Stages = append(r.Stages, Stage{Kind: one.kind, On: one.on, Minutes: one.minutes, Checkpoint: one.check})
			}
		}
	}
	r = r.Named()
	// The teacher picks and composes, and students begin after it, but where a way has something of its own to set up.
	if i := slices.IndexFunc(r.On(), func(s Stage) bool { return s.Kind != Pick && s.Kind != Compose || s.Title != "" }); i > 0 {
		r.Begins = r.On()[i].ID
	}
	return r
}

// NewRoad returns the usual road, box by box.
func NewRoad() Road { return ByBox.Road() }
