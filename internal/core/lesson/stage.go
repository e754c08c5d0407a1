package lesson

import (
	"cmp"
	"slices"
)

// StageKind says what is done in a stage, and with it which cards and cautions it has.
type StageKind string

// The stages, in the order of the work.
const (
	Pick     StageKind = "pick"
	Compose  StageKind = "compose"
	MarkUp   StageKind = "markup"
	Draw     StageKind = "draw"
	Check    StageKind = "check"
	Transfer StageKind = "transfer"
	Ink      StageKind = "ink"
	Erase    StageKind = "erase"
	Tone     StageKind = "tone"
	Reflect  StageKind = "reflect"
	Other    StageKind = "other" // something of the teacher's own
)

// StageKinds returns all of them, in the order of the work.
func StageKinds() (kinds []StageKind) {
	for _, i := range stageInfos {
		kinds = append(kinds, i.kind)
	}
	return kinds
}

// Name returns what a stage of the kind is usually called.
func (k StageKind) Name() string { return info(k).name }

// StageID names a stage of one road: what somebody has done is kept by it. The first stage
// of a kind is named as its kind.
type StageID string

// Stage is one part of a project's road. What it leaves empty is as usual for its kind.
type Stage struct {
	ID         StageID    `json:"id,omitempty"`
	Kind       StageKind  `json:"kind"`
	On         bool       `json:"on"`
	Minutes    float64    `json:"minutes"`
	Checkpoint string     `json:"checkpoint,omitempty"` // what is looked at before the next stage opens; empty for none
	Title      string     `json:"title,omitempty"`
	Words      string     `json:"words,omitempty"` // what stands on the board
	Needs      []Material `json:"needs,omitempty"`
	Care       []Tool     `json:"care,omitempty"`
}

// stageInfo is what is usual of a kind of stage (common practice; minutes ours).
type stageInfo struct {
	kind      StageKind
	name      string
	minutes   float64
	on        bool
	check     string
	board     string
	materials []Material
	tools     []Tool
}

var stageInfos = []stageInfo{
	{Pick, "Pick the picture", 10, true, "", "Choose a picture you want to look at for a long time.", []Material{{"pictures of different difficulty", 0.25, 0, false}}, []Tool{Originals}},
	{Compose, "Compose", 15, true, "", "Frame a part. Try three upright thumbnails and three lying.",
		[]Material{{"window or two L-shaped strips", 1, 0.1, false}, {"thumbnail page", 1, 0.1, true}},
		[]Tool{Scissors}},
	{MarkUp, "Mark up the sheet", 20, true, "The grid is true: boxes equal, counts alike, lines faint.",
		"Zero on the corner. Mark all of one side, then the other, then join.",
		[]Material{{"drawing paper", 1, 0.1, true}, {rulers, 1, 0.1, false},
			{"pencil", 1, 0.2, false}}, []Tool{Trimmer, Scissors}},
	{Draw, "Draw box by box", 120, true, "", "One box at a time: where does the line enter, where does it leave?",
		[]Material{{"gridded picture", 1, 0.1, true}, {"pencil", 1, 0.2, false}, {"sharpener", 0.25, 0, false},
			{"card with a window", 1, 0.1, false}, {"scrap paper", 1, 0.1, true}}, nil},
	{Check, "Check", 10, true, "The outline is approved.", "Lay both upside down. Which box is off?", []Material{{"clean picture", 1, 0.1, true}}, []Tool{Photos}},
	{Transfer, "Transfer", 30, false, "Nothing is missing: the tape may come off.",
		"Darken the main lines first. Trace in a second colour. Lift and look early.",
		[]Material{{"final paper", 1, 0.1, true}, {"roll of tape", 0.25, 0, false}, {"soft base", 1, 0, false},
			{"backing pencil or pastel", 1, 0.1, false}}, []Tool{Dust, LightBox, Window}},
	{Ink, "Ink", 30, false, "", "Fine tip for outlines, broad marker for large blacks.", []Material{{"fine tip 0.2 mm", 1, 0.1, false}, {"broad marker", 0.5, 0, false}}, []Tool{Markers}},
	{Erase, "Erase the grid", 10, true, "", "Erase inside the figure. Hold the paper flat.", []Material{{"eraser with a cut corner", 1, 0.1, false}}, nil},
	{Tone, "Tone or colour", 60, true, "", "Start with the darkest. Squint. Leave the whites white.",
		[]Material{{"soft pencil", 2, 0.1, false}, {"values strip", 1, 0.1, false}}, []Tool{Dust, Paint, Fixative}},
	{Reflect, "Look again", 10, true, "", "Side by side, right way up. What differs? What are you glad of?", nil, []Tool{Photos}},
	{Other, "Something else", 20, false, "", "", nil, nil},
}

func info(k StageKind) stageInfo {
	for _, i := range stageInfos {
		if i.kind == k {
			return i
		}
	}
	return stageInfo{kind: k}
}

// NewStage returns a stage as it is usual for its kind, on.
func NewStage(k StageKind) Stage {
	i := info(k)
	return Stage{ID: StageID(k), Kind: k, On: true, Minutes: i.minutes, Checkpoint: i.check}
}

// Name, Board, Materials, Tools and Cautions return what stands on a stage's card.
func (s Stage) Name() string  { return cmp.Or(s.Title, info(s.Kind).name) }
func (s Stage) Board() string { return cmp.Or(s.Words, info(s.Kind).board) }
func (s Stage) Materials() []Material {
	if s.Needs != nil {
		return s.Needs
	}
	return info(s.Kind).materials
}
func (s Stage) Tools() []Tool {
	if s.Care != nil {
		return s.Care
	}
	return info(s.Kind).tools
}
func (s Stage) Cautions() []string { return Cautions(s.Tools()...) }

// Draws reports whether lines come onto paper in the stage.
func (s Stage) Draws() bool { return s.Kind == Draw || s.Kind == Transfer }

// Has reports whether a caution stands on the stage's card.
func (s Stage) Has(t Tool) bool { return slices.Contains(s.Tools(), t) }
