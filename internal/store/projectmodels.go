package store

import (
	"fmt"
	"strconv"
	"time"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/core/plane"
	"zestysketch/internal/core/reading"

	"gorm.io/gorm"
)

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
