package intake

import (
	"bytes"
	"context"
	"encoding/gob"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"syscall"

	"zestysketch/internal/core/picture"
	"zestysketch/internal/store"
)

// Apart is the command by which Take has pictures decoded in a process of their own, which
// may use mostSeconds of a processor and is ended then, or when its request is; empty where
// this process may do it itself. It is set once, before anything is taken in.
var Apart []string

// mostSeconds bounds the processor's time for one picture (ours): a HEIC file of 40 megapixels
// takes some 8 s on a slow core, and nothing that a camera makes takes as long as this. A PDF may use more:
// making its reader ready takes 8 s the first time on a fast core.
const mostSeconds, mostSecondsPDF = 20, 90

// asked is what the process apart is told, and told is what it answers.
type asked struct {
	Filename string
	Purpose  store.Purpose
	Bytes    []byte
}

type told struct {
	Picture store.Picture
	Files   []store.PictureFile
	Reason  int    // which of picture.Reasons it is that it cannot be taken, from 1
	Words   string // and in words
}

// TakeFor does the part of the process apart: it reads what is asked, and answers.
func TakeFor(ctx context.Context, in io.Reader, out io.Writer) error {
	limit := syscall.Rlimit{Cur: mostSeconds, Max: mostSecondsPDF}
	if err := syscall.Setrlimit(syscall.RLIMIT_CPU, &limit); err != nil { // then the system ends it
		return err
	}
	var a asked
	if err := gob.NewDecoder(in).Decode(&a); err != nil {
		return err
	}
	if limit.Cur = mostSecondsPDF; hasPages(a.Bytes, a.Purpose) {
		if err := syscall.Setrlimit(syscall.RLIMIT_CPU, &limit); err != nil {
			return err
		}
	}
	var t told
	var err error
	t.Picture, t.Files, err = takeHere(ctx, a.Filename, a.Bytes, a.Purpose)
	for i, reason := range picture.Reasons {
		if errors.Is(err, reason) {
			t.Reason, t.Words, err = i+1, err.Error(), nil
		}
	}
	if err != nil {
		return err
	}
	return gob.NewEncoder(out).Encode(t)
}

// refused is an error of a picture as the process apart gave it.
type refused struct {
	reason error
	words  string
}

func (r refused) Error() string { return r.words }
func (r refused) Unwrap() error { return r.reason }

// takeApart is Take by a process of its own.
func takeApart(ctx context.Context, filename string, b []byte, purpose store.Purpose) (store.Picture, []store.PictureFile, error) {
	var in, out, errs bytes.Buffer
	if err := gob.NewEncoder(&in).Encode(asked{filename, purpose, b}); err != nil {
		return store.Picture{}, nil, err
	}
	cmd := exec.CommandContext(ctx, Apart[0], Apart[1:]...)
	cmd.Env = append(os.Environ(), "GOGC=50") // little is allocated after the pixels
	cmd.Stdin, cmd.Stdout, cmd.Stderr = &in, &out, &errs
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	err := cmd.Run()
	if ctx.Err() != nil {
		return store.Picture{}, nil, ctx.Err()
	}
	var ended *exec.ExitError
	if errors.As(err, &ended) && ended.Sys().(syscall.WaitStatus).Signaled() {
		return store.Picture{}, nil, fmt.Errorf("%w: opening it took longer than any picture does", picture.ErrTooHeavy)
	}
	if err != nil {
		return store.Picture{}, nil, fmt.Errorf("taking a picture in apart: %w: %.200s", err, &errs)
	}
	var t told
	if err := gob.NewDecoder(&out).Decode(&t); err != nil {
		return store.Picture{}, nil, fmt.Errorf("taking a picture in apart: %w", err)
	}
	if t.Reason > 0 {
		return store.Picture{}, nil, refused{picture.Reasons[t.Reason-1], t.Words}
	}
	return t.Picture, t.Files, nil
}
