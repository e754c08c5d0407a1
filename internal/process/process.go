// Package process keeps the programs that were started: databases, proxies and
// copies of our own.
package process

import (
	"os"
	"os/exec"
	"syscall"
	"time"
)

// Process is a program that was started. A nil one has ended already.
type Process struct {
	cmd   *exec.Cmd
	ended chan struct{} // closed when it has
	how   error         // set before
}

// Start starts a command.
func Start(cmd *exec.Cmd) (*Process, error) {
	if err := cmd.Start(); err != nil {
		return nil, err
	}
	p := &Process{cmd: cmd, ended: make(chan struct{})}
	go func() { p.how = cmd.Wait(); close(p.ended) }()
	return p, nil
}

// Ended returns a channel that is closed once the program has ended.
func (p *Process) Ended() <-chan struct{} { return p.ended }

// How waits until the program has ended and returns how: nil where in order.
func (p *Process) How() error {
	<-p.ended
	return p.how
}

// PID returns the program's number.
func (p *Process) PID() int { return p.cmd.Process.Pid }

// Signal sends the program a signal. The error is that of one that is gone.
func (p *Process) Signal(s os.Signal) error { return p.cmd.Process.Signal(s) }

// End sends a signal and waits until the program has ended. The error is that
// of one that was gone.
func (p *Process) End(by os.Signal) error {
	if p == nil {
		return nil
	}
	err := p.Signal(by)
	<-p.ended
	return err
}

// EndWithin asks the program to end and kills it where that takes longer; it
// reports whether it ended as asked.
func (p *Process) EndWithin(patience time.Duration) bool {
	if p == nil {
		return true
	}
	p.Signal(syscall.SIGTERM) // it may have ended already
	select {
	case <-p.ended:
		return true
	case <-time.After(patience):
		p.End(syscall.SIGKILL)
		return false
	}
}
