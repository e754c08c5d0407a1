package store

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/grid"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/picture"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"

	"gorm.io/gorm"
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

// Project is one picture being copied by one class.
type Project struct {
	ID          uint64
	TeacherID   uint64
	ClassID     *uint64
	Class       *Class
	PictureID   *uint64
	Picture     *Picture `gorm:"foreignKey:PictureID"` // said, because a picture may name a project too
	Name        string
	Looseness   accuracy.Looseness
	Compare     accuracy.Compare `gorm:"column:compare_with"` // what else its drawings are compared with
	PlanVersion int              // 0 where there is no plan yet
	Plan        *Plan            `gorm:"foreignKey:ID,PlanVersion;references:ProjectID,Version"` // of that version
	LinksUntil  *time.Time       // the last day of its students' links, nil for none
	PutAwayAt   *time.Time       // nil while it is in use
	DeletedAt   *time.Time       // nil unless it can be brought back still
	PrintedAt   *time.Time       // when pages of it were made first, nil if none were
	Road        *lesson.Road     `gorm:"serializer:json"` // nil for the usual one
	Help        reading.Help     // the step from which students are helped to see what is in a box
	Finest      reading.Finest   // of the fractions that are said of it; empty for the usual
	HandIn      lesson.HandIn    // when its students may hand photos in by themselves
	HandInBare  bool             // they see the boxes without words
	Pair        bool             // its views hang together, edge to edge
	ReadBy      reading.Source   // the lines of its picture by which boxes are read; empty for the usual
	CreatedAt   time.Time
	UpdatedAt   time.Time // when its plan changed, or a day on which it was at work

	Chosen uint64 `gorm:"-"` // the class that its address names, where it has several; 0 for the first
}

// Key names the project in addresses: by its number, and that of the class that
// was chosen of several.
func (p Project) Key() string {
	if p.Chosen == 0 {
		return strconv.FormatUint(p.ID, 10)
	}
	return fmt.Sprintf("%d-%d", p.ID, p.Chosen)
}

// AfterFind drops what a join made of nothing: a picture, a class, or a class's
// lessons that are not there.
func (p *Project) AfterFind(*gorm.DB) error {
	if p.PictureID == nil {
		p.Picture = nil
	}
	switch {
	case p.ClassID == nil:
		p.Class = nil
	case p.Class != nil:
		p.Class.noCalendar()
	}
	return nil
}

// noCalendar drops what a join made of no lessons.
func (c *Class) noCalendar() {
	if c.Calendar != nil && c.Calendar.ClassID == 0 {
		c.Calendar = nil
	}
}

// EffectiveRoad returns the project's road, the usual one where none was set.
func (p Project) EffectiveRoad() lesson.Road {
	if p.Road != nil {
		return p.Road.Named()
	}
	return lesson.NewRoad()
}

// Plan is one version of a project's plan, zesty-plan/1.
type Plan struct {
	ProjectID uint64 `gorm:"primaryKey"`
	Version   int    `gorm:"primaryKey"`
	JSON      string `gorm:"column:json"`
	CreatedAt time.Time
}

// BoxWeights is how heavy the boxes of a plan are by the detail of its picture, as
// they were reckoned last.
type BoxWeights struct {
	ProjectID   uint64 `gorm:"primaryKey"`
	PlanVersion int
	PictureID   uint64
	Weights     []float64 `gorm:"serializer:json"`
}

// ProjectPicture is a picture on offer in a project, which may have several.
type ProjectPicture struct {
	ProjectID uint64 `gorm:"primaryKey"`
	PictureID uint64 `gorm:"primaryKey"`
}

// Frame is a part of a picture kept aside, as grid.Request reads it.
type Frame struct {
	ID        uint64
	ProjectID uint64
	PictureID uint64
	Name      string
	Frame     string
}

// Assignment gives a student a picture or frame of their own in a project, or a part of the
// boxes to draw instead of all.
type Assignment struct {
	Part      string // from its first box to its last, A1:C4; empty for all
	ProjectID uint64 `gorm:"primaryKey"`
	StudentID uint64 `gorm:"primaryKey"`
	PictureID *uint64
	Picture   *Picture
	FrameID   *uint64
	Frame     *Frame
}

// AfterFind drops what a join made of nothing.
func (a *Assignment) AfterFind(*gorm.DB) error {
	if a.PictureID == nil {
		a.Picture = nil
	}
	if a.FrameID == nil {
		a.Frame = nil
	}
	return nil
}

// Tick records that a student has done a box.
type Tick struct {
	ProjectID uint64 `gorm:"primaryKey"`
	StudentID uint64 `gorm:"primaryKey"`
	Label     string `gorm:"primaryKey"`
	TickedAt  time.Time
}

// Landmark is a point of one of a project's pictures worth getting right, in
// pixels of the upright picture.
type Landmark struct {
	ID        uint64
	ProjectID uint64
	PictureID *uint64
	Name      string
	Weight    int // 1 to 3
	Class     accuracy.Class
	X         float64 `gorm:"column:x_px"`
	Y         float64 `gorm:"column:y_px"`
}

// CheckIn is a photograph of a student's drawing with what was placed on it.
type CheckIn struct {
	ID        uint64
	ProjectID uint64
	Project   *Project // where it was fetched
	StudentID uint64
	Student   Student
	PictureID uint64
	Picture   Picture
	Corners   *plane.Quad            `gorm:"serializer:json"` // photo pixels; nil until placed
	Marks     map[uint64]plane.Point `gorm:"serializer:json"` // photo pixels by landmark
	Report    *accuracy.Report       `gorm:"serializer:json"` // what was measured; nil until the corners are known, and in lists
	Gist      *accuracy.Gist         `gorm:"serializer:json"` // the report in short
	PlanSum   uint32                 // of the plan that it was measured against
	Version   int
	CreatedAt time.Time
}

// Settle puts what was measured of a check-in into it.
func (c *CheckIn) Settle(r accuracy.Report) {
	gist := r.Gist()
	c.Corners, c.Report, c.Gist = &r.Corners, &r, &gist
}

// Stray is a photograph that waits for somebody to say whose drawing it shows.
type Stray struct {
	ID        uint64
	ProjectID uint64
	PictureID uint64
	Picture   Picture
	Words     string // why it waits
	CreatedAt time.Time
}

// Printer is a printer of the teacher's, with what was measured of it by paper.
type Printer struct {
	ID          uint64
	TeacherID   uint64
	Name        string
	Margin      float64 `gorm:"column:margin_mm"`
	Corrections []Correction
}

// Correction is what a printer makes of lengths on one paper, printed ÷ true.
type Correction struct {
	PrinterID uint64  `gorm:"primaryKey"`
	Paper     string  `gorm:"primaryKey"`
	Across    float64 `gorm:"column:across_scale"`
	Down      float64 `gorm:"column:down_scale"`
}

// PrintSet is a choice of pages kept under a name; its spec is package press's.
type PrintSet struct {
	ID        uint64
	TeacherID uint64
	Name      string
	Spec      string
}

// StudentLink lets a student open their own page of one project; only its
// hash is kept.
type StudentLink struct {
	Hash      []byte `gorm:"primaryKey"`
	ProjectID uint64
	StudentID uint64
	Number    uint32 // of its renewal
	Live      *bool  // nil for one of before there was one a student and project
	CreatedAt time.Time
}

// ProjectClass is a class that draws a project; one may have several.
type ProjectClass struct {
	ProjectID uint64 `gorm:"primaryKey"`
	ClassID   uint64 `gorm:"primaryKey"`
}

// StageRecord says that a student has done a stage.
type StageRecord struct {
	ProjectID uint64         `gorm:"primaryKey"`
	StudentID uint64         `gorm:"primaryKey"`
	Stage     lesson.StageID `gorm:"primaryKey"`
	DoneAt    time.Time
}

// Verdict is what was said at a checkpoint, the last one counting. Seen is the
// id of the verdict that its giver saw before, 0 for none: two who decide at
// once do not both have the last word.
type Verdict struct {
	ID        uint64
	ProjectID uint64
	StudentID uint64
	Stage     lesson.StageID
	Verdict   lesson.Verdict
	ByWhom    string
	Note      string
	Seen      uint64
	CreatedAt time.Time
}

// Seat is a student's raised hand and the teacher's flag.
type Seat struct {
	ProjectID uint64 `gorm:"primaryKey"`
	StudentID uint64 `gorm:"primaryKey"`
	HandAt    *time.Time
	Flag      string
}

// Absence is a student missing on a day.
type Absence struct {
	StudentID uint64 `gorm:"primaryKey"`
	Day       string `gorm:"primaryKey"` // 2006-01-02
}

// Note is something written down of a project's lesson, or of one student in it.
type Note struct {
	ID        uint64
	ProjectID uint64
	StudentID *uint64
	PictureID *uint64 // a photo of the lesson
	Words     string
	ByWhom    string // a teacher's name; empty in notes of before it was kept
	CreatedAt time.Time
}

// OldTick is a tick of a grid that a project no longer has.
type OldTick struct {
	ProjectID   uint64 `gorm:"primaryKey"`
	PlanVersion int    `gorm:"primaryKey"`
	StudentID   uint64 `gorm:"primaryKey"`
	Label       string `gorm:"primaryKey"`
	TickedAt    time.Time
}

// TableName names the table of OldTick.
func (OldTick) TableName() string { return "tick_history" }

// Reached says that a student has reached one of the road's objectives.
type Reached struct {
	ProjectID uint64 `gorm:"primaryKey"`
	StudentID uint64 `gorm:"primaryKey"`
	Objective string `gorm:"primaryKey"`
}

// TableName names the table of Reached.
func (Reached) TableName() string { return "reached" }

// Stock is how much of a material a school has, and what one costs.
type Stock struct {
	SchoolID   uint64 `gorm:"primaryKey"`
	Item       string `gorm:"primaryKey"`
	Have       int
	PriceCents int
}

// Change says that something of a student in a project has changed, or how far
// one of its jobs is, for pages that look.
type Change struct {
	ID        uint64
	ProjectID uint64
	StudentID uint64
	JobID     uint64 // 0 where it is of a student
	About     string // empty where it is of a student or a job
	CreatedAt time.Time
}

// Calendar is when a class has its lessons, and the hash of its feed's address.
type Calendar struct {
	ClassID  uint64          `gorm:"primaryKey"`
	Calendar lesson.Calendar `gorm:"serializer:json"`
	Number   uint32          // of the feed's renewal
	FeedHash []byte
	Feed     string `gorm:"-"` // the feed's letters; empty where they are not to be made again
}
