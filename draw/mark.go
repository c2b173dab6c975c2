package draw

import "fmt"

// SVGMark draws the mark of a verdict, always shown with its word: a way
// through to a filled bead (suits), a way round a post (adapt), a way stopped
// by a post before an open bead (avoid). Its colour is the text's.
func SVGMark(verdict string) []byte {
	const open = `<svg xmlns="http://www.w3.org/2000/svg" class="sign" viewBox="0 0 26 20" width="26" height="20" aria-hidden="true" fill="none" stroke="currentColor" stroke-width="3" stroke-linecap="round">%s</svg>`
	switch verdict {
	case "suits":
		return fmt.Appendf(nil, open, `<path d="M2 10H16"/><circle cx="20" cy="10" r="3.6" fill="currentColor"/>`)
	case "adapt":
		return fmt.Appendf(nil, open, `<path d="M2 14C7 14 6 4 10.5 4S14 14 18 14"/><path d="M10.5 11V17"/><circle cx="21" cy="14" r="3.4" fill="currentColor"/>`)
	}
	return fmt.Appendf(nil, open, `<path d="M2 10H9M12 3V17"/><circle cx="20" cy="10" r="3.6" stroke-width="2.4"/>`)
}
