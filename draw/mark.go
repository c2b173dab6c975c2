package draw

import "fmt"

// SVGMark draws the mark of a verdict, always shown with its word: a way
// through to a filled bead (suits), a way round a post (adapt), a way stopped
// by a post before an open bead (avoid). Its colour is the text's.
func SVGMark(verdict string) []byte {
	const open = `<svg xmlns="http://www.w3.org/2000/svg" class="sign" viewBox="0 0 26 20" width="26" height="20" aria-hidden="true" ` +
		`fill="none" stroke="currentColor" stroke-width="3" stroke-linecap="round">%s</svg>`
	switch verdict {
	case "suits":
		return fmt.Appendf(nil, open, `<path d="M2 10H16"/><circle cx="20" cy="10" r="3.6" fill="currentColor"/>`)
	case "adapt":
		return fmt.Appendf(
			nil,
			open,
			`<path d="M2 14C7 14 6 4 10.5 4S14 14 18 14"/><path d="M10.5 11V17"/><circle cx="21" cy="14" r="3.4" fill="currentColor"/>`,
		)
	}
	return fmt.Appendf(nil, open, `<path d="M2 10H9M12 3V17"/><circle cx="20" cy="10" r="3.6" stroke-width="2.4"/>`)
}

// SVGDay draws the mark of what a day allows, always shown with its word: the line is the
// way and the bead the lesson. Ready, a line to a filled bead; gentle, the same under a ceiling
// with teeth; ask, a line and a gap of dots before an open bead; stop, a post before dots and
// an open bead, another day; refer, a post that the line climbs past to somebody else.
func SVGDay(status string) []byte {
	const open = `<svg xmlns="http://www.w3.org/2000/svg" class="sign" viewBox="0 0 26 20" width="26" height="20" aria-hidden="true" ` +
		`fill="none" stroke="currentColor" stroke-width="2.6" stroke-linecap="round">%s</svg>`
	const dots = `<path d="M11.4 10h.1M14.4 10h.1" stroke-width="2.2"/><circle cx="20.6" cy="10" r="3.4" stroke-width="2"/>`
	switch status {
	case "ready":
		return fmt.Appendf(nil, open, `<path d="M2 10H16"/><circle cx="20" cy="10" r="3.4" fill="currentColor"/>`)
	case "gentle":
		return fmt.Appendf(
			nil,
			open,
			`<path d="M2 3H24M6 3V6.4M11 3V6.4M16 3V6.4M21 3V6.4" stroke-width="1.8"/><path d="M2 14H16"/><circle cx="20" cy="14" `+
				`r="3.2" fill="currentColor"/>`,
		)
	case "ask":
		return fmt.Appendf(nil, open, `<path d="M2 10H7.6"/>`+dots)
	case "stop":
		return fmt.Appendf(nil, open, `<path d="M2 10H7M7.6 2.6V17.4"/>`+dots)
	}
	return fmt.Appendf(nil, open,
		`<path d="M2 14C8 14 7 6 13 6H19"/><path d="M14 11V18"/><circle cx="21" cy="5" r="3.2" fill="currentColor"/>`)
}
