package main

import (
	"context"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"time"

	"filippo.io/age"
	"github.com/alecthomas/kong"

	"restbend/backup"
	"restbend/store"
)

// version is what this program was built from.
func version() string {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return "unknown"
	}
	at := info.Main.Version
	for _, s := range info.Settings {
		if s.Key == "vcs.revision" && at == "(devel)" {
			at = s.Value[:min(12, len(s.Value))]
		}
	}
	return fmt.Sprintf("%s, %s, %s %s", at, info.GoVersion, runtime.GOOS, runtime.GOARCH)
}

type versionFlag bool

// BeforeReset prints the version and ends the call.
func (versionFlag) BeforeReset(app *kong.Kong) error {
	fmt.Fprintf(app.Stdout, "restbend %s, database version %d\n", version(), store.SchemaKnown())
	app.Exit(0)
	return nil
}

type doctorCommand struct {
	Data   string `help:"Folder of the database." placeholder:"DIR"`
	Copies string `help:"Folder of its copies; without one they are looked for beside the database." placeholder:"DIR"`
	Key    string `help:"Key of encrypted backup." placeholder:"FILE"`
}

// finding is one thing that was looked at.
type finding struct {
	what, says string
	ill        bool
}

func (c doctorCommand) Run(s streams) error {
	dir, err := dataFolder(c.Data)
	if err != nil {
		return err
	}
	key, err := readKey(c.Key)
	if err != nil {
		return err
	}
	if c.Copies == "" {
		c.Copies = filepath.Join(dir, "copies")
	}
	ill := false
	fmt.Fprintf(s.out, "restbend %s\n", version())
	for _, f := range append(examine(dir), examineCopies(c.Copies, key)...) {
		sign := "good"
		if f.ill {
			sign, ill = "ILL ", true
		}
		fmt.Fprintf(s.out, "%s  %s: %s\n", sign, f.what, f.says)
	}
	if ill {
		return errors.New("not all is well; see above")
	}
	return nil
}

// examine looks at a folder of data without changing anything in it.
func examine(dir string) []finding {
	ctx := context.Background()
	if _, err := loadJudge(); err != nil {
		return []finding{{"library", err.Error(), true}}
	}
	out := []finding{{"library", "is as it was built in", false}}
	info, err := os.Stat(filepath.Join(dir, "restbend.db"))
	if errors.Is(err, fs.ErrNotExist) {
		return append(out, finding{"database", "there is none in " + dir + "; serve makes one", false})
	}
	if err != nil {
		return append(out, finding{"database", err.Error(), true})
	}
	if info.Mode().Perm()&0o077 != 0 && runtime.GOOS != "windows" {
		out = append(out, finding{"database", "others on this machine can read it; expected that its owner alone can", true})
	}
	work, err := os.MkdirTemp("", "restbend-doctor-")
	if err != nil {
		return append(out, finding{"database", err.Error(), true})
	}
	defer os.RemoveAll(work)
	copied := filepath.Join(work, "copy.db")
	if err := store.Backup(ctx, dir, copied); err != nil {
		return append(out, finding{"database", err.Error(), true})
	}
	out = append(out, finding{"database", fmt.Sprintf("is whole, %.1f MB", float64(info.Size())/1e6), false})
	if err := store.Restore(ctx, copied, filepath.Join(work, "data")); err != nil {
		return append(out, finding{"database", "cannot be brought up to date: " + err.Error(), true})
	}
	db, err := store.Open(ctx, filepath.Join(work, "data"))
	if err != nil {
		return append(out, finding{"database", err.Error(), true})
	}
	defer db.Close()
	n, seal, err := db.CheckTrail(ctx)
	if err != nil {
		return append(out, finding{"trail", err.Error(), true})
	}
	return append(out, finding{"trail", fmt.Sprintf("%d lines, unbroken, the last seal is %.16s", n, seal), false})
}

// examineCopies brings the newest copy back into a folder of its own.
func examineCopies(dir string, key *age.X25519Identity) []finding {
	k := &backup.Keeper{Dir: dir, Now: time.Now}
	all, err := k.List()
	if err != nil {
		return []finding{{"copies", err.Error(), true}}
	}
	if len(all) == 0 {
		return []finding{{"copies", "there are none in " + dir, true}}
	}
	of := fmt.Sprintf("%d, the newest of %s", len(all), all[0].At.Local().Format("2 January 15:04"))
	old := time.Since(all[0].At) > 48*time.Hour
	if all[0].Encrypted && key == nil {
		return []finding{{"copies", of + ", encrypted; with --key it is brought back to be sure", old}}
	}
	work, err := os.MkdirTemp("", "restbend-doctor-")
	if err != nil {
		return []finding{{"copies", err.Error(), true}}
	}
	defer os.RemoveAll(work)
	if err := backup.Restore(context.Background(), filepath.Join(dir, all[0].Name), filepath.Join(work, "data"), key); err != nil {
		return []finding{{"copies", of + ", which does not come back: " + err.Error(), true}}
	}
	return []finding{{"copies", of + ", brought back to be sure", old}}
}
