package store

import (
	"slices"
	"strings"
	"time"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/reading"
)

// School is where teachers work.
type School struct {
	ID        uint64
	Name      string
	Zone      string // of its clocks, as the IANA names it; empty for the server's own
	Secret    []byte // that its links are made from; nil until one is
	CreatedAt time.Time

	Units, Paper string // that projects begin with, and pages are printed on; no paper is the usual one for the units
	Currency     string // before or beside a price, such as € or $; may be empty
	Dates        string // the language that dates are written in, a locale such as en_GB
	PhotoMonths  int    // after which photos of drawings end, 0 for never
	NoteMonths   int    // after which notes end
	Address      string // by which tablets reach this program, https://host; empty for the one its teachers use
}

// Teacher signs in and owns classes, pictures and projects.
type Teacher struct {
	ID           uint64
	SchoolID     uint64
	School       School
	Email, Name  string
	PasswordHash string
	Admin        bool       // looks after the school's people and settings
	DisabledAt   *time.Time // nil while they may sign in
	Units, Paper string     // of their own, empty for the school's
	SecondSecret string     // of the second step of signing in, empty for none
	SecondStep   int64      // the step of the last code taken: none is taken twice
	CreatedAt    time.Time
}

// Class is a group of students.
type Class struct {
	ID        uint64
	TeacherID uint64
	Name      string
	Students  []Student
	Calendar  *Calendar // nil without lessons, or where it was not fetched
	PutAwayAt *time.Time
	CreatedAt time.Time
}

// Student is known by a short name or a code, no more.
type Student struct {
	ID        uint64
	ClassID   uint64
	Name      string
	Hand      grid.Hand
	Units     string  // in, cm or mm where they read other units than the class; else empty
	OutsideID *string // as the school's own list knows them
	Team      string  // a group within the class
	Pace      string  // slow or quick as the teacher knows them, empty for usual
	Home      string  // what they have at home, words with commas
	Needs     string  // words with commas, of Needs
	LeftAt    *time.Time
	// Where they sit, from 1, from the front and from the left; nil where nobody said.
	SeatRow, SeatColumn *int
	CreatedAt           time.Time
}

// What a student may need that changes their pages.
const (
	NeedFewer    = "fewer and larger boxes"
	NeedMore     = "more and smaller boxes"
	NeedContrast = "high contrast"
	NeedDots     = "dot sheet"
)

// Needs lists them.
var Needs = []string{NeedFewer, NeedMore, NeedContrast, NeedDots}

// Has reports whether the student has a need.
func (s Student) Has(need string) bool { return slices.Contains(strings.Split(s.Needs, ", "), need) }

// Picture is a reference or a photograph, upright and without metadata. Its
// bytes are PictureFiles.
type Picture struct {
	ID            uint64
	TeacherID     uint64
	Name          string
	Width, Height int
	Size          int64
	Hash          []byte
	Purpose       Purpose
	Tags          string         // words with commas
	Difficulty    int            // 1 to 3, 0 where nobody said
	Facts         *picture.Facts `gorm:"serializer:json"`   // nil for pictures of before they were measured
	Hard          *reading.Hard  `gorm:"serializer:json"`   // nil until somebody asked how hard it is
	TakenFor      *uint64        `gorm:"column:project_id"` // of a student's own view alone: the project
	TakenBy       *uint64        `gorm:"column:student_id"` // and the student
	CreatedAt     time.Time
}

// Pixels returns the picture's width and height, none without a picture.
func (p *Picture) Pixels() [2]int {
	if p == nil {
		return [2]int{}
	}
	return [2]int{p.Width, p.Height}
}

// LineDrawing reports whether a picture is known to be lines on paper; no picture is not.
func (p *Picture) LineDrawing() bool { return p != nil && p.Facts != nil && p.Facts.Drawing }

// Purpose is what a picture was taken in for.
type Purpose string

// A reference is in the teacher's library; a photo belongs to a check-in.
const (
	ForReference Purpose = "reference"
	ForCheckIn   Purpose = "photo"
	ForView      Purpose = "view" // from a student's own seat, to draw from
)

// Role says which rendering of a picture a file is.
type Role string

// The renderings kept: as large as it came, for the screen, and for lists.
const (
	Full  Role = "full"
	View  Role = "view"
	Thumb Role = "thumb"
)

// PictureFile is one encoded rendering of a picture.
type PictureFile struct {
	PictureID uint64 `gorm:"primaryKey"`
	Role      Role   `gorm:"primaryKey"`
	Kind      string // image/jpeg or image/png
	Bytes     []byte
}

// Calendar is when a class has its lessons, and the hash of its feed's address.
type Calendar struct {
	ClassID  uint64          `gorm:"primaryKey"`
	Calendar lesson.Calendar `gorm:"serializer:json"`
	Number   uint32          // of the feed's renewal
	FeedHash []byte
	Feed     string `gorm:"-"` // the feed's letters; empty where they are not to be made again
}
