package main

import (
	"context"
	"crypto/rand"
	"errors"
	"flag"
	"fmt"
	"io"
	"log/slog"
	"os"
	"os/exec"
	"runtime"
	"runtime/debug"
	"strconv"
	"syscall"
	"time"

	"zestysketch/internal/checkin"
	"zestysketch/internal/intake"
	"zestysketch/internal/press"
	"zestysketch/internal/store"
	"zestysketch/internal/work"
)

// worker makes what is queued: class sets, and photos to be measured.
func worker(db *store.Store, log *slog.Logger) work.Worker {
	return work.Worker{Store: db, Log: log, Makers: map[store.JobKind]work.Maker{store.SetJob: press.Make, store.PhotoJob: checkin.Make}}
}

// alone is whether the worker gets a process of its own, which main lets it: a test is
// no program that could be started again.
var alone = false

// workNice is how far the worker's process stands back behind those who answer
// requests (setpriority(2)), on one core.
const workNice = 10

// workGoal is the memory, in bytes, at which the worker's process tidies up before it
// takes more: a check of 12 megapixels holds some two thirds of it. With its server it
// stays under 400 MB.
const workGoal = 200 << 20

// workCommand does queued jobs for a server, which starts it: on one core, behind
// everybody else, so that ticks stay quick while photos are measured; and what a photo
// does to whoever decodes it, it does to nobody else.
func workCommand(ctx context.Context, args []string, std streams) error {
	f := flag.NewFlagSet("work", flag.ContinueOnError)
	if err := parse(f, args, std); err != nil {
		return err
	}
	dsn := os.Getenv(envDSN)
	if dsn == "" {
		return fmt.Errorf("%w: wanted the database's address in %s; serve starts this by itself", errUsage, envDSN)
	}
	runtime.GOMAXPROCS(1)
	debug.SetMemoryLimit(workGoal)
	log, err := newLog(std.err, os.Getenv(envLog))
	if err != nil {
		return err
	}
	if err := standBack(); err != nil {
		log.Warn("the worker does not stand back", "error", err)
	}
	db, err := store.Open(ctx, dsn)
	if errors.Is(err, store.ErrNewer) && alone {
		os.Exit(foundNewer)
	}
	if err != nil {
		return err
	}
	defer db.Close()
	db.HeldBy(os.Getenv(envHolder))
	w := worker(db, log)
	w.End = func() { os.Exit(endedItself) }
	w.Run(ctx)
	return nil
}

// envHolder is the variable that names a worker to the server that started it, and
// endedItself the exit code of one that ended itself at a job.
const envHolder, endedItself = "ZESTY_WORKER", 3

// intakeCommand decodes one picture for a server: what a picture does to whoever decodes it,
// it does to nobody else, and not for long.
func intakeCommand(ctx context.Context, args []string, std streams) error {
	f := flag.NewFlagSet("intake", flag.ContinueOnError)
	if err := parse(f, args, std); err != nil {
		return err
	}
	return intake.TakeFor(ctx, std.in, std.out)
}

// decodeApart has pictures decoded by processes of their own, where main lets it.
func decodeApart() error {
	if !alone {
		return nil
	}
	program, err := os.Executable()
	intake.Apart = []string{program, "intake"}
	return err
}

// standBack gives every thread of the process, and so every one that they begin, the
// worker's priority: on Linux it is a thread's own.
func standBack() error {
	threads, err := os.ReadDir("/proc/self/task")
	if err != nil {
		return err
	}
	for _, t := range threads {
		id, err := strconv.Atoi(t.Name())
		if err != nil {
			return err
		}
		if err := syscall.Setpriority(syscall.PRIO_PROCESS, id, workNice); err != nil && !errors.Is(err, syscall.ESRCH) {
			return err
		}
	}
	return nil
}

// How long a worker that ended is left before it is started again, and has to end.
const workRest, workPatience = time.Second, 10 * time.Second

// foundNewer is the exit code of a worker whose tables a newer program has brought up to date meanwhile: while copies are
// exchanged one by one, jobs are for the newer ones. It is tried again after newerRest.
const (
	foundNewer = 4
	newerRest  = time.Minute
)

// runWorker lets the worker work until ctx ends, in a process of its own that is
// started again whenever it ends.
func runWorker(ctx context.Context, db *store.Store, dsn string, errs io.Writer, log *slog.Logger) {
	if !alone {
		worker(db, log).Run(ctx)
		return
	}
	for ctx.Err() == nil {
		holder := rand.Text()
		err := workOnce(ctx, dsn, holder, errs)
		if ctx.Err() != nil {
			return
		}
		if err := db.Died(ctx, holder); err != nil {
			log.Error("what a worker left", "error", err)
		}
		var ended *exec.ExitError
		if errors.As(err, &ended) && ended.ExitCode() == endedItself {
			log.Warn("the worker ended itself at a job that took too long, or was cancelled, and is started again")
			continue
		}
		rest := workRest
		if ended != nil && ended.ExitCode() == foundNewer {
			log.Warn("the tables are a newer program's: jobs are for its copies until this one is exchanged too")
			rest = newerRest
		} else {
			log.Error("the worker ended and is started again", "error", err)
		}
		select {
		case <-ctx.Done():
		case <-time.After(rest):
		}
	}
}

func workOnce(ctx context.Context, dsn, holder string, errs io.Writer) error {
	program, err := os.Executable()
	if err != nil {
		return err
	}
	runtime.LockOSThread() // what dies with its parent dies with the thread that started it (prctl(2))
	defer runtime.UnlockOSThread()
	cmd := exec.CommandContext(ctx, program, "work")
	cmd.Env = append(os.Environ(), envDSN+"="+dsn, envHolder+"="+holder)
	cmd.Stderr = errs
	// Its own process group: a Ctrl-C in the terminal reaches us, and we end it in order.
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGTERM}
	cmd.Cancel = func() error { return cmd.Process.Signal(syscall.SIGTERM) }
	cmd.WaitDelay = workPatience
	return cmd.Run()
}
