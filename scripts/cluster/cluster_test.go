package main

import (
	"context"
	"testing"
	"time"
)

// A short lesson in which a node and a copy of the program die: nothing that was
// confirmed is lost or stands twice, nobody waits long, and nothing answers that
// something else went wrong.
func TestALessonOutlivesANodeAndACopy(t *testing.T) {
	r, err := run(context.Background(), options{length: 25 * time.Second, every: time.Second, classes: 2, students: 10, kill: true})
	if err != nil {
		t.Fatal(err)
	}
	t.Log("\n" + r.String())
	if !r.good() || len(r.recovered) != 2 || r.photos == 0 || r.notes == 0 {
		t.Errorf("the lesson did not go well:\n%s", r)
	}
}
