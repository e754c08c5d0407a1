// Package archive hands a project to somebody as one file, zesty-project/1, and
// takes one in: its plan, pictures, frames, landmarks, road and choices of pages.
// No student, and nothing that one did, is in it. docs/formats.md describes the file.
package archive

import (
	"errors"
	"io"

	"zestysketch/internal/core/accuracy"
	"zestysketch/internal/core/lesson"
	"zestysketch/internal/press"
)

// Format is what the file says of itself.
const Format = "zesty-project/1"

// Ending ends the file's name.
const Ending = "zesty-project.zip"

// The parts of the file; pictures lie beside them under names that the first says.
const (
	aboutFile = "project.json"
	planFile  = "plan.json"
)

// What a file may hold: MostBytes of all, and of each part. A project offers few
// pictures, and what is said of them is short.
const (
	MostBytes     = 300 << 20
	mostPictures  = 24
	mostFrames    = 12
	mostLandmarks = 30
	mostSets      = 20
	mostWords     = 1 << 20 // bytes of a part that is text
	mostIndex     = 64 << 10
)

// Letters of a project's name, and of the names of the things in it.
const longestTitle, longestName, longestTags = 80, 60, 200

// Of what boxes are left free: all of the largest grid fit.
const longestFree, freeLetters = 20000, "ABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789 "

// ErrFile is wrapped by every error of a file that cannot be taken in.
var ErrFile = errors.New("not a project file")

// about is project.json.
type about struct {
	Format    string             `json:"format"`
	Name      string             `json:"name"`
	Looseness accuracy.Looseness `json:"looseness"`
	Compare   accuracy.Compare   `json:"compare,omitempty"`
	Free      string             `json:"free_boxes,omitempty"` // with spaces between
	Road      *lesson.Road       `json:"road,omitempty"`       // the usual one where it is left out
	Pictures  []pictured         `json:"pictures"`
	PrintSets []printSet         `json:"print_sets,omitempty"`
}

// pictured is one picture on offer.
type pictured struct {
	File       string     `json:"file"`
	Name       string     `json:"name"`
	Tags       string     `json:"tags,omitempty"`
	Difficulty int        `json:"difficulty,omitempty"` // 1 to 3
	Main       bool       `json:"main,omitempty"`       // the plan is made for it
	Frames     []framed   `json:"frames,omitempty"`
	Landmarks  []landmark `json:"landmarks,omitempty"`
}

// framed is a frame kept aside, as a plan's request has it.
type framed struct {
	Name  string `json:"name"`
	Frame string `json:"frame"`
}

// landmark is a point in pixels of the upright picture.
type landmark struct {
	Name   string         `json:"name"`
	Weight int            `json:"weight"`
	Class  accuracy.Class `json:"class,omitempty"`
	X      float64        `json:"x"`
	Y      float64        `json:"y"`
}

// printSet is a choice of pages under a name.
type printSet struct {
	Name string     `json:"name"`
	Spec press.Spec `json:"spec"`
}

// budget is a reader that gives out so much and no more: a ZIP's index can be made
// far larger than all that it lists.
type budget struct {
	io.ReaderAt
	left int64 // below nothing for no end
}

func (b *budget) ReadAt(p []byte, off int64) (int, error) {
	if b.left >= 0 {
		if b.left -= int64(len(p)); b.left < 0 {
			return 0, errIndex
		}
	}
	return b.ReaderAt.ReadAt(p, off)
}

var errIndex = errors.New("its list of parts is too long")
