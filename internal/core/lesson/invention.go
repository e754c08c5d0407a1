package lesson

// inventions are asked of students where a teacher wants invention beside accuracy, by what
// they are at (common practice; the words are ours).
var inventions = map[StageKind][]string{
	Compose: {"What stands behind it? Leave it out, or think of a place of your own: three thumbnails first."},
	Draw:    {"The background is yours: from your own head, or from a second picture. Keep it lighter than the subject."},
	Tone: {"Colours need not be the picture's. Choose three of your own, and repeat each in several places.",
		"A background of your own: one quiet colour, a pattern, or somewhere this could be. What would change the mood?"},
	Ink:     {"One part may have a pattern of your own."},
	Reflect: {"Which part is your own, and why did you choose it?"},
}

// Inventions returns what a student is asked to make up at a stage; nothing where the teacher
// wants the picture as it is.
func (r Road) Inventions(k StageKind) []string {
	if !r.Invent {
		return nil
	}
	return inventions[k]
}
