package lesson

// HelperAsks are the three questions that a helper at home answers about a stage with yes
// or no, after what practitioners look for at its end (common practice).
func HelperAsks(k StageKind) [3]string {
	switch k {
	case MarkUp:
		return [3]string{"Are all boxes of one size?", "Are there as many boxes across and down as the card says?", "Are the lines so faint that they can be erased?"}
	case Transfer:
		return [3]string{"Is every line of the list there?", "Are the lines where they belong, none of them doubled?", "Is the paper clean round the drawing?"}
	case Ink, Erase:
		return [3]string{"Are all lines of the drawing inked?", "Are the pencil lines gone where they should be?", "Is the paper clean and unhurt?"}
	case Tone:
		return [3]string{"Are the darkest places as dark as in the picture?", "Are the whites left white?", "Do the tones go from one to the next as in the picture?"}
	}
	return [3]string{"Held upside down beside the picture, is everything there?", "Do the lines meet from box to box?", "Are the large shapes in their places?"}
}

// Ready returns what a student presses at the end of a stage; a look closes those with a
// checkpoint.
func (s Stage) Ready() string {
	switch {
	case s.Kind == MarkUp && s.Checkpoint != "":
		return "My grid is ready: look"
	case s.Checkpoint != "":
		return "Ready for a look"
	}
	return "“" + s.Name() + "” is done"
}
