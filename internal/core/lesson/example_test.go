package lesson_test

import (
	"fmt"

	"zestysketch/internal/core/lesson"
)

// Weekly lessons of 50 minutes, five of them to set up and five to clear away.
func ExampleCalendar_Lessons() {
	c := lesson.Calendar{From: 20781, Until: 20781 + 13, Weekly: []lesson.Weekly{{Weekday: 1, Start: 9 * 60, Minutes: 50}}, Setup: 5, Clear: 5}
	lessons, err := c.Lessons()
	fmt.Println(len(lessons), lessons[0].Drawing(), err)
	// Output: 2 40 <nil>
}
