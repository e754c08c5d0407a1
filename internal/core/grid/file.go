package grid

import (
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
)

// ErrFile is wrapped by every error of a plan file that cannot be used.
var ErrFile = errors.New("not a plan")

// Encode returns the plan as zesty-plan/1 JSON, indented, with a final newline.
func Encode(p Plan) ([]byte, error) {
	b, err := json.MarshalIndent(p, "", "  ")
	return append(b, '\n'), err
}

// Decode reads zesty-plan/1 JSON. Sizes and counts are believed only where they
// agree with each other; scale, squash and marks are worked out again. Errors wrap ErrFile.
func Decode(b []byte) (Plan, error) {
	var p Plan
	if err := json.Unmarshal(b, &p); err != nil {
		return Plan{}, fmt.Errorf("%w: the file is damaged or cut off (%v); export it again", ErrFile, err)
	}
	p.fillIn()
	if p.Format != Format {
		if strings.HasPrefix(p.Format, "zesty-plan/") {
			return Plan{}, fmt.Errorf("%w: the file is %s and this program reads %s; use a newer program", ErrFile, p.Format, Format)
		}
		return Plan{}, fmt.Errorf("%w: wanted a file whose format is %s, got %q", ErrFile, Format, p.Format)
	}
	if err := p.check(); err != nil {
		return Plan{}, fmt.Errorf("%w: %w; export it again", ErrFile, err)
	}
	if p.Grid.Split == nil {
		p.Grid.Split = map[string]int{}
	}
	if p.Working == nil {
		p.Working = []string{}
	}
	p.derive()
	made := slices.DeleteFunc(p.Findings, func(f Finding) bool {
		return f.Code != codeCrop && f.Code != codeRoom && f.Code != codeSnap && f.Code != codeLine
	})
	p.Findings = append(p.find(), made...)
	return p, nil
}

// fillIn gives files of before what they could not say yet.
func (p *Plan) fillIn() {
	if p.Line == (Line{}) {
		p.Line = Line{Color: "dark", Width: defaultLine}
	}
	if p.Ruler == (Ruler{}) {
		p.Ruler = usualRuler(ByRuler, p.Units)
	}
}
