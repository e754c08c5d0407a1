// Command zesty-sketch serves the program to a school and does its sums in the
// shell. JSON goes to standard output, an error to standard error in one line;
// the exit code is 0 for fine, 1 for failed, 2 for wrong usage.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"io"
	"os"
	"os/signal"
	"strings"
	"syscall"
)

// errUsage is wrapped by errors about how the command was called.
var errUsage = errors.New("wrong usage")

// command is one word after the program's name.
type command struct {
	name, what string
	run        func(ctx context.Context, args []string, std streams) error
}

type streams struct {
	in       io.Reader
	out, err io.Writer
}

func commands() []command {
	return []command{
		{"demo", "start with demo data and print the sign-in", demoCommand},
		{"serve", "start on a data folder", serveCommand},
		{"certificate", "make the school's own authority and a certificate, for https in its network", certificateCommand},
		{"version", "say which program this is, and of a database which tables it has", versionCommand},
		{"doctor", "look at disk, memory, clock, database, certificate, backups and addresses, and say what to mend", doctorCommand},
		{"work", "do queued jobs for a server, which starts this by itself", workCommand},
		{"intake", "decode a picture for a server, which starts this by itself", intakeCommand},
		{"teacher", "add a teacher; the password is asked for, or read from standard input", teacherCommand},
		{"password", "give a teacher another password, also while the server runs", passwordCommand},
		{"backup", "write everything into one file, also while the server runs", backupCommand},
		{"school", "list, make, export, take, restore or delete a school, or let passwords in again, also while the server runs", schoolCommand},
		{"restore", "read a backup into an empty database; it is checked first", restoreCommand},
		{"plan", "reckon a plan and print it as JSON", planCommand},
		{"sizes", "propose sizes of a picture that come out even, as JSON", sizesCommand},
		{"print", "write pages of a plan as PDF, SVG or PNG", printCommand},
		{"check", "measure a photographed drawing and print what is off as JSON", checkCommand},
		{"boxes", "say what is in every box of a picture: where lines enter and leave, as JSON", boxesCommand},
		{"values", "write a picture as a few steps of tone with closed areas: SVG, PDF or PNG", valuesCommand},
		{"tiles", "set the tiles of a plan into other places, by a seed", tilesCommand},
		{"photograph", "let the pretend camera photograph pretend drawings, to try the check with", photographCommand},
	}
}

func main() {
	alone = true
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	os.Exit(run(ctx, os.Args[1:], streams{os.Stdin, os.Stdout, os.Stderr}))
}

// run does one command and returns the exit code.
func run(ctx context.Context, args []string, std streams) int {
	err := dispatch(ctx, args, std)
	switch {
	case err == nil:
		return 0
	case errors.Is(err, flag.ErrHelp):
		return 0
	case errors.Is(err, errUsage):
		fmt.Fprintln(std.err, oneLine(err))
		return 2
	}
	fmt.Fprintln(std.err, oneLine(err))
	return 1
}

func oneLine(err error) string { return "zesty-sketch: " + strings.ReplaceAll(err.Error(), "\n", "; ") }

func dispatch(ctx context.Context, args []string, std streams) error {
	if len(args) > 0 && (args[0] == "--version" || args[0] == "-v") {
		args[0] = "version"
	}
	if len(args) > 0 {
		for _, c := range commands() {
			if c.name == args[0] {
				return c.run(ctx, args[1:], std)
			}
		}
	}
	var names []string
	for _, c := range commands() {
		names = append(names, c.name)
	}
	if len(args) == 0 || args[0] == "help" || args[0] == "-h" || args[0] == "--help" {
		fmt.Fprintln(std.err, "zesty-sketch COMMAND [flags]")
		for _, c := range commands() {
			fmt.Fprintf(std.err, "  %-11s %s\n", c.name, c.what)
		}
		if len(args) > 0 {
			return nil
		}
	}
	return fmt.Errorf("%w: wanted one of %s", errUsage, strings.Join(names, ", "))
}

// parse reads flags; anything left over or unknown is wrong usage.
func parse(f *flag.FlagSet, args []string, std streams) error {
	f.SetOutput(io.Discard)
	err := f.Parse(args)
	if errors.Is(err, flag.ErrHelp) {
		f.SetOutput(std.err)
		f.PrintDefaults()
		return err
	}
	if err != nil {
		return fmt.Errorf("%w: %v; see zesty-sketch %s --help", errUsage, err, f.Name())
	}
	if f.NArg() > 0 {
		return fmt.Errorf("%w: %q is too much; see zesty-sketch %s --help", errUsage, f.Arg(0), f.Name())
	}
	return nil
}
