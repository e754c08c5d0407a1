package kit

import (
	"crypto/sha256"
	"fmt"

	lru "github.com/hashicorp/golang-lru/v2"

	"zestysketch/internal/core/grid"
	"zestysketch/internal/store"
)

// mostReckoned is how much of what pages reckoned stays in memory, each as it is
// shown: of about 0.3 MB.
const mostReckoned = 64

// reckoned is what was reckoned, by the sum of what it depends on.
type reckoned struct {
	*lru.Cache[[sha256.Size]byte, any]
}

// Once returns what make makes, which is made once for the same parts and kept: they
// are all that it depends on, in words and numbers. What cannot be made is not kept.
func Once[T any](k *Kit, make func() (T, error), parts ...any) (T, error) {
	var of T
	key := sha256.Sum256(fmt.Appendf(nil, "%T %q", of, parts))
	if kept, there := k.reckoned.Get(key); there {
		return kept.(T), nil
	}
	made, err := make()
	if err == nil {
		k.reckoned.Add(key, made)
	}
	return made, err
}

// SumOf names a project's picture as its plan shows it, for Once: a picture's pixels
// never change, and a plan that is changed is another.
func SumOf(p store.Project, plan grid.Plan) string {
	text, err := grid.Encode(plan)
	if err != nil || p.Picture == nil {
		return fmt.Sprint("project ", p.ID, " version ", p.PlanVersion)
	}
	return fmt.Sprint(p.Picture.ID, p.Picture.LineDrawing(), p.Key(), string(text))
}
