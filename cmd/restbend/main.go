// Command restbend plans and teaches safe spinal mobility and core sessions.
// See README.md; `restbend --help` lists the commands.
package main

import (
	"errors"
	"fmt"
	"io"
	"os"
	"runtime/debug"
	"strings"
	"time"

	"github.com/alecthomas/kong"

	"restbend/app"
	"restbend/core/civil"
	"restbend/formats"
)

// Exit statuses of the program.
const (
	exitDone    = 0
	exitFailed  = 1
	exitRefused = 2 // the input or the call
	exitRefer   = 3 // the answer is to see a doctor
)

// errRefer ends a command whose answer was printed and is to refer.
var errRefer = errors.New("refer")

type commands struct {
	Version versionFlag `help:"Say which version this is."`

	Demo    demoCommand    `cmd:"" help:"Fill a database of its own with demo data and serve it on this machine."`
	Serve   serveCommand   `cmd:"" help:"Serve your own database."`
	Catalog catalogCommand `cmd:"" help:"List the exercises with their measured movement quantities."`
	Limits  limitsCommand  `cmd:"" help:"Show a client's limits with reasons and sources."`
	Check   checkCommand   `cmd:"" help:"Give the verdict on the named exercises, or on all."`
	Plan    planCommand    `cmd:"" help:"Plan a session for a client."`
	Next    nextCommand    `cmd:"" help:"Decide from the records what follows: step up, hold, step back or refer."`
	Home    homeCommand    `cmd:"" help:"Choose two to six exercises to do alone at home, with days and doses."`
	Class   classCommand   `cmd:"" help:"Plan one session for two to twelve clients in one room."`
	Course  courseCommand  `cmd:"" help:"Plan weeks ahead: lessons, home days and what comes if all goes well."`
	Export  exportCommand  `cmd:"" help:"Write the studio, a client or a programme for home in an open format."`
	Import  importCommand  `cmd:"" help:"Take in archives, tables of clients and client files."`
	Backup  backupCommand  `cmd:"" help:"Copy your database to a file, also while it is in use."`
	Restore restoreCommand `cmd:"" help:"Bring a copy back into a folder without a database."`
	NewKey  newKeyCommand  `cmd:"" name:"new-key" help:"Make a key that copies are encrypted with."`
	Doctor  doctorCommand  `cmd:"" help:"Look whether program, database, trail and copies are well."`
	Lever   leverCommand   `cmd:"" help:"Work out what a plank, a lean or a side bridge asks of arms and low back."`
}

// streams are where a command reads and writes.
type streams struct {
	in  io.Reader
	out io.Writer
	err io.Writer
}

func main() { os.Exit(run(os.Args[1:], streams{os.Stdin, os.Stdout, os.Stderr})) }

// run carries out one call and returns the exit status.
func run(args []string, io streams) (status int) {
	var c commands
	ended := -1
	parser, err := kong.New(
		&c,
		kong.Name("restbend"),
		kong.Writers(io.out, io.err),
		kong.Exit(func(code int) { ended = code; panic(done{}) }),
		kong.Description(
			"Rest Bend plans gentle spinal mobility and core sessions. It shows the usual cautions and never diagnoses; a licensed "+
				"clinician's word comes first.",
		),
		kong.UsageOnError(),
		kong.ConfigureHelp(kong.HelpOptions{Compact: true}),
	)
	if err != nil {
		fmt.Fprintln(io.err, "restbend:", err)
		return exitFailed
	}
	defer func() { // --help ends the call from within the parser
		if r := recover(); r != nil {
			if _, ok := r.(done); !ok {
				panic(r)
			}
			status = ended
		}
	}()
	call, err := parser.Parse(args)
	if err != nil {
		fmt.Fprintf(io.err, "restbend: %s\nTry: restbend --help\n", err)
		return exitRefused
	}
	err = call.Run(io)
	var invalid *formats.Invalid
	switch {
	case err == nil:
		return exitDone
	case errors.Is(err, errRefer):
		return exitRefer
	case errors.As(err, &invalid):
		fmt.Fprintln(io.err, "restbend:", err)
		return exitRefused
	}
	fmt.Fprintln(io.err, "restbend:", err)
	return exitFailed
}

type done struct{}

// loadJudge reads the library. Loading makes much garbage in half a second and then no
// more, so the collector is let wait until it is done.
func loadJudge() (*app.Judge, error) {
	defer debug.SetGCPercent(debug.SetGCPercent(400))
	return app.NewJudge()
}

// day is the date a command is to take for today.
type day struct {
	On string `help:"Take this date, YYYY-MM-DD, for today." placeholder:"DATE"`
}

func (d day) date() (civil.Day, error) {
	if d.On == "" {
		now := time.Now()
		return civil.Of(now), nil
	}
	t, err := civil.Parse(d.On)
	if err != nil {
		return t, &formats.Invalid{Path: "--on", Want: fmt.Sprintf("%q is not a date; expected YYYY-MM-DD", d.On)}
	}
	if t.Year() < 2000 || t.Year() > 2099 {
		return t, &formats.Invalid{Path: "--on", Want: fmt.Sprintf("%s is out of reach; expected a day from 2000 to 2099", d.On)}
	}
	return t, nil
}

// readFile reads a file, or standard input for "-".
func readFile(name string, in io.Reader) ([]byte, error) {
	r := in
	if name != "-" {
		f, err := os.Open(name)
		if err != nil {
			return nil, &formats.Invalid{Path: name, Want: "cannot be read: " + strings.TrimPrefix(err.Error(), "open "+name+": ")}
		}
		defer f.Close()
		r = f
	}
	b, err := io.ReadAll(io.LimitReader(r, formats.MaxBytes+1))
	if err != nil {
		return nil, &formats.Invalid{Path: name, Want: "cannot be read: " + err.Error()}
	}
	return b, nil
}
