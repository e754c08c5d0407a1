package lesson

import "strings"

// Tool is something that can hurt, soil or break.
type Tool string

// The tools that have cautions.
const (
	Trimmer   Tool = "trimmer"
	Knife     Tool = "knife"
	Scissors  Tool = "scissors"
	Dust      Tool = "dust"
	Markers   Tool = "markers"
	Fixative  Tool = "fixative"
	LightBox  Tool = "light"
	Window    Tool = "window"
	Wall      Tool = "wall"
	Paint     Tool = "paint"
	Photos    Tool = "photos"
	Originals Tool = "originals"
)

// Tools lists them.
var Tools = []Tool{Trimmer, Knife, Scissors, Dust, Markers, Fixative, LightBox, Window, Wall, Paint, Photos, Originals}

// Name returns what a caution is about, as it begins.
func (t Tool) Name() string {
	name, _, _ := strings.Cut(cautions[t], ":")
	if t == Originals {
		return "Originals"
	}
	return name
}

// Defer stands beside every caution.
const Defer = "Follow your school's own rules and the product's label; these notes do not replace them."

// cautions are common practice.
var cautions = map[Tool]string{
	Trimmer:   "Paper trimmer: one user, fingers clear, blade left down and latched.",
	Knife:     "Craft knife: an adult or a trained user only, cut away from the hand, on a mat. Young classes take scissors.",
	Scissors:  "Scissors: sit down to cut, and hand them on handle first.",
	Dust:      "Charcoal and pastel dust: a sheet on the floor, do not blow, wipe wet, wash hands. Ask about asthma first.",
	Markers:   "Permanent markers: fresh air.",
	Fixative:  "Fixative: adults only, outdoors or in a hood.",
	LightBox:  "Lamp under glass: a cool lamp, smooth-edged glass, nothing that can tip.",
	Window:    "Window tracing: both feet on the floor, no climbing.",
	Wall:      "Large walls: work at height is for trained adults.",
	Paint:     "Water and paint: keep floors and cables dry.",
	Photos:    "Photographs of young people and their work: your school's consent rules.",
	Originals: "Work on a copy, never the only original.",
}

// Cautions returns the cautions of the tools in use, in that order, and last
// the sentence that defers to the school; nothing for no tools.
func Cautions(tools ...Tool) []string {
	var words []string
	for _, t := range tools {
		if c, ok := cautions[t]; ok {
			words = append(words, c)
		}
	}
	if words != nil {
		words = append(words, Defer)
	}
	return words
}
