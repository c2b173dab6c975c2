// Command ttf unpacks a WOFF2 font into TrueType, which is what a PDF embeds.
//
//	ttf latin.woff2 latin.ttf
package main

import (
	"fmt"
	"os"

	"github.com/tdewolff/font"
)

func main() {
	if err := run(os.Args[1:]); err != nil {
		fmt.Fprintln(os.Stderr, "ttf:", err)
		os.Exit(1)
	}
}

func run(args []string) error {
	if len(args) != 2 {
		return fmt.Errorf("expected two file names, the font and where to write it; got %d", len(args))
	}
	packed, err := os.ReadFile(args[0])
	if err != nil {
		return err
	}
	plain, err := font.ToSFNT(packed)
	if err != nil {
		return fmt.Errorf("%s: %w", args[0], err)
	}
	return os.WriteFile(args[1], plain, 0o644)
}
