package lesson

import "slices"

// Medium is what tone and colour are laid on with.
type Medium string

// The media of the trade.
const (
	InPencil     Medium = "pencil"
	InCharcoal   Medium = "charcoal"
	InWatercolor Medium = "watercolour"
	InInkAndWash Medium = "ink-wash"
	OnBlack      Medium = "on-black"
	InOpaque     Medium = "opaque"
	OnCanvas     Medium = "canvas"
)

// mediumInfo is what a medium needs and how it is begun (common practice; amounts ours).
type mediumInfo struct {
	medium Medium
	name   string
	words  string
	needs  []Material
	care   []Tool
}

var mediumInfos = []mediumInfo{
	{InPencil, "Pencil", "Start with the darkest. Squint. Leave the whites white.",
		[]Material{{"soft pencil", 2, 0.1, false}, {"hard pencil", 1, 0.1, false}, {"paper stump", 1, 0.2, true},
			{"kneaded eraser", 1, 0.1, false}, {"values strip", 1, 0.1, false}}, []Tool{Dust}},
	{InCharcoal, "Charcoal", "Lightly first; the darkest charcoal last. Step back often.",
		[]Material{{"soft charcoal", 2, 0.3, true}, {"medium charcoal", 1, 0.3, true},
			{"hard charcoal", 1, 0.2, true}, {"kneaded eraser", 1, 0.1, false}, {"sheet for the floor", 0.25, 0, false},
			{"damp cloth", 0.5, 0, false}}, []Tool{Dust, Fixative}},
	{InWatercolor, "Watercolour", "Tape the edge. Thin with water; light washes first, each one dry before the next.",
		[]Material{{"watercolour box", 0.5, 0.1, false}, {"broad wash brush", 0.5, 0.1, false},
			{"round brush", 1, 0.1, false}, {"water jar", 1, 0, false}, {"metres of masking tape", 2, 0.1, true},
			{"board", 1, 0, false}, {"paper towel", 2, 0.1, true}}, []Tool{Paint}},
	{InInkAndWash, "Ink and wash", "Permanent ink first, and dry. Then the wash, light before dark.",
		[]Material{{"permanent fine pen of 0.2 mm", 1, 0.2, false}, {"broad black marker", 0.5, 0.1, false},
			{"wash brush", 1, 0.1, false}, {"water jar", 1, 0, false}, {"metres of masking tape", 2, 0.1, true},
			{"paper towel", 2, 0.1, true}}, []Tool{Markers, Paint}},
	{OnBlack, "White and silver on black", "Draw the lights: the paper is the dark. Keep the hand off wet ink.",
		[]Material{{"black paper", 1, 0.1, true}, {"white pencil", 1, 0.1, false}, {"white gel pen", 1, 0.2, false},
			{"silver pen", 0.5, 0.1, false}, {"white transfer paper", 0.5, 0.1, true}}, []Tool{Markers}},
	{InOpaque, "Poster paint or gouache", "Mix first, a little more than you need. Large areas before small ones.",
		[]Material{{"set of poster paint or gouache", 0.25, 0.1, true}, {"flat brush", 1, 0.1, false},
			{"round brush", 1, 0.1, false}, {"palette or plate", 1, 0.1, false}, {"water jar", 1, 0, false},
			{"drop sheet", 0.25, 0, false}, {"paper towel", 2, 0.1, true}}, []Tool{Paint}},
	{OnCanvas, "Acrylic on canvas", "Fat strokes last. Acrylic dries fast: keep brushes wet.",
		[]Material{{"primed canvas", 1, 0.05, true}, {"set of acrylic paint", 0.25, 0.1, true},
			{"broad flat brush", 1, 0.1, false}, {"small flat brush", 1, 0.1, false}, {"palette or plate", 1, 0.1, false},
			{"water jar", 1, 0, false}, {"drop sheet", 0.5, 0, false}}, []Tool{Paint}},
}

// Mediums lists the media, pencil first.
func Mediums() (all []Medium) {
	for _, i := range mediumInfos {
		all = append(all, i.medium)
	}
	return all
}

// Name returns what a medium is called.
func (m Medium) Name() string { return m.info().name }

func (m Medium) info() mediumInfo {
	i := slices.IndexFunc(mediumInfos, func(i mediumInfo) bool { return i.medium == m })
	return mediumInfos[max(0, i)]
}

// In returns the road with its stages of tone and colour in a medium: its materials, its
// cautions and its words on the board. Another name for a stage stays.
func (r Road) In(m Medium) Road {
	info := m.info()
	r.Stages = slices.Clone(r.Stages)
	for i := range r.Stages {
		if s := &r.Stages[i]; s.Kind == Tone {
			s.Needs, s.Care, s.Words = slices.Clone(info.needs), slices.Clone(info.care), info.words
		}
	}
	return r
}
