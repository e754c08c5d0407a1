package process

import (
	"errors"
	"os"
	"os/exec"
	"syscall"
	"testing"
	"time"
)

func started(t *testing.T, script string) *Process {
	t.Helper()
	p, err := Start(exec.Command("sh", "-c", script))
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// What ended by itself says how, as often as it is asked, and is not killed again.
func TestEnded(t *testing.T) {
	p := started(t, "exit 3")
	for range 2 {
		var how *exec.ExitError
		if !errors.As(p.How(), &how) || how.ExitCode() != 3 {
			t.Fatalf("it ended by %v; want 3", p.How())
		}
	}
	if err := p.End(syscall.SIGTERM); !errors.Is(err, os.ErrProcessDone) {
		t.Errorf("ended again: %v", err)
	}
	if p = started(t, "true"); p.How() != nil {
		t.Errorf("it ended in order, by %v", p.How())
	}
}

// One that does not listen is killed; one that was never started has ended.
func TestEndWithin(t *testing.T) {
	deaf := started(t, "trap '' TERM; echo; while :; do sleep 0.1; done")
	time.Sleep(200 * time.Millisecond) // until it does not listen
	if deaf.EndWithin(300 * time.Millisecond) {
		t.Error("it ended as asked")
	}
	select {
	case <-deaf.Ended():
	default:
		t.Error("it goes on")
	}
	if !started(t, "exec sleep 60").EndWithin(10 * time.Second) {
		t.Error("it had to be killed")
	}
	var none *Process
	if !none.EndWithin(0) || none.End(syscall.SIGTERM) != nil {
		t.Error("what never began goes on")
	}
	if _, err := Start(exec.Command("/no/such/program")); err == nil {
		t.Error("what is not there was started")
	}
}
