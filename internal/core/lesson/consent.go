package lesson

// Consent is what a student says to showing their drawing.
type Consent string

// What may be said; nothing is said until it is.
const (
	Unsaid  Consent = ""
	Named   Consent = "named"
	Unnamed Consent = "unnamed"
	NotHung Consent = "no"
)

// Consents lists what may be said.
var Consents = []Consent{Unsaid, Named, Unnamed, NotHung}

// ConsentSays names what is said among the things a student says.
const ConsentSays = "show"

// Words returns what a consent is called on a student's page.
func (c Consent) Words() string {
	return map[Consent]string{Unsaid: "I have not decided", Named: "yes, with my name", Unnamed: "yes, without my name", NotHung: "please not"}[c]
}

// Shown reports whether a drawing may be shown, and Name whether with its name: only who
// said so is named.
func (c Consent) Shown() bool { return c != NotHung }
func (c Consent) Name() bool  { return c == Named }
