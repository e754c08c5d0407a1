package grid

import (
	"errors"
	"fmt"
	"strings"
)

// Problem is a field of a request that cannot be used, and how to mend it.
type Problem struct{ Field, Message string }

// Problems is the error of a request: every field that needs mending.
type Problems []Problem

func (p Problems) Error() string {
	lines := make([]string, len(p))
	for i, one := range p {
		lines[i] = one.Field + ": " + one.Message
	}
	return strings.Join(lines, "; ")
}

// Of returns the message for a field, empty if it is fine.
func (p Problems) Of(field string) string {
	for _, one := range p {
		if one.Field == field {
			return one.Message
		}
	}
	return ""
}

func (p *Problems) add(field, format string, args ...any) {
	*p = append(*p, Problem{field, fmt.Sprintf(format, args...)})
}

// ProblemsOf returns the problems in err, nil if err has none.
func ProblemsOf(err error) Problems {
	var p Problems
	errors.As(err, &p)
	return p
}
