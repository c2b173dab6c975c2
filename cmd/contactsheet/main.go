// Command contactsheet writes one HTML page with many figures, for looking
// over the poses of the library. It is a tool for those who pose figures.
//
//	go run ./cmd/contactsheet > sheet.html
package main

import (
	"encoding/base64"
	"flag"
	"fmt"
	"os"
	"slices"
	"strings"

	"restbend/core/exercise"
	"restbend/draw"
	"restbend/library"
)

func main() {
	family := flag.String("family", "", "only this family")
	only := flag.String("only", "", "only these variants, their ids with commas between")
	poses := flag.Bool("poses", false, "every key pose instead of the one that stands for the variant")
	view := flag.String("view", "", "side, front, back, above or three_quarter instead of the variant's own")
	dark := flag.Bool("dark", false, "dark colours")
	width := flag.Int("width", 240, "of each figure, in pixels")
	names := flag.Bool("names", false, "captions in words instead of ids")
	adapted := flag.String("adapted", "", "the forms with this adaptation instead of the plain ones, such as fists")
	small := flag.Bool("thumb", false, "drawn as thumbnails")
	flag.Parse()
	lib, err := library.Load()
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		if lib == nil {
			os.Exit(1)
		}
	}
	size, theme, ground := draw.Large, draw.Light, "#FFFCF5"
	if *small {
		size = draw.Thumb
	}
	if *dark {
		theme, ground = draw.Dark, "#12161D"
	}
	fmt.Printf(`<meta charset="utf-8"><body style="background:%s;font:12px sans-serif;margin:8px;color:#888">`, ground)
	for _, v := range lib.Variants {
		if *family != "" && v.Family != *family {
			continue
		}
		if *only != "" && !slices.Contains(strings.Split(*only, ","), v.ID) {
			continue
		}
		var form *exercise.Form
		for f := range v.Adapted() {
			if form == nil && len(f.Adaptations) == 1 && f.Adaptations[0].ID == *adapted {
				form = f
			}
		}
		if *adapted != "" && form == nil {
			continue
		}
		shown := []string{v.Show.Pose}
		if *poses {
			shown = v.Plain().Movement.Order
		}
		for _, name := range shown {
			caption := v.ID + " " + name
			if *names {
				caption = v.Name
			}
			picture, err := draw.Variant(v, form, name, !*poses, draw.View(*view), size, theme)
			if err != nil {
				fmt.Fprintln(os.Stderr, v.ID, err)
				continue
			}
			fmt.Printf(
				`<figure style="display:inline-block;margin:4px;width:%dpx"><img style="width:100%%;height:%dpx;object-fit:contain" `+
					`src="data:image/svg+xml;base64,%s"><figcaption>%s</figcaption></figure>`,
				*width,
				*width*3/4,
				base64.StdEncoding.EncodeToString(picture.SVG),
				caption,
			)
		}
	}
}
