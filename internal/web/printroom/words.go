package printroom

import (
	"fmt"

	"zestysketch/internal/store"
)

// percentWords says what a printer makes of lengths on a paper.
func percentWords(c store.Correction) string {
	return fmt.Sprintf("%s: prints %.2f %% across and %.2f %% down, and is corrected", c.Paper, c.Across*100, c.Down*100)
}
