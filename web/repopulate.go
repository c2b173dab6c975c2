package web

import (
	"bytes"
	"net/url"
	"slices"
	"strings"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"
)

// A refused form is shown again exactly as it was sent: whatever a template shows of it,
// every field is filled from what was posted, and the key is a new one.

// repopulate fills the form of a page that was posted to the path with what was posted. What
// cannot be read as a page stays as it is.
func repopulate(page []byte, path string, posted url.Values) []byte {
	var roots []*html.Node
	var err error
	if whole := bytes.Contains(page[:min(len(page), 200)], []byte("<!doctype")) ||
		bytes.Contains(page[:min(len(page), 200)], []byte("<!DOCTYPE")); whole {
		var doc *html.Node
		doc, err = html.Parse(bytes.NewReader(page))
		roots = []*html.Node{doc}
	} else {
		roots, err = html.ParseFragment(bytes.NewReader(page), &html.Node{Type: html.ElementNode, Data: "body", DataAtom: atom.Body})
	}
	if err != nil {
		return page
	}
	form := formFor(roots, path, posted)
	if form == nil {
		return page
	}
	fill(form, posted)
	for n := form.Parent; n != nil; n = n.Parent { // what was folded away is to be seen
		if n.DataAtom == atom.Details {
			set(n, "open", "")
		}
	}
	var b bytes.Buffer
	for _, n := range roots {
		if err := html.Render(&b, n); err != nil {
			return page
		}
	}
	return b.Bytes()
}

// formFor is the form that was sent: it goes to the path, has the hidden values that were
// posted, and asks for the most of what was.
func formFor(roots []*html.Node, path string, posted url.Values) *html.Node {
	var best *html.Node
	most := -1
	for _, root := range roots {
		for n := range elements(root) {
			if n.DataAtom != atom.Form || attr(n, "action") != path || !strings.EqualFold(attr(n, "method"), "post") {
				continue
			}
			known, same := 0, true
			for f := range elements(n) {
				name := attr(f, "name")
				if name == "" || !posted.Has(name) || f.DataAtom == atom.Button {
					continue
				}
				if f.DataAtom == atom.Select && !offers(f, posted.Get(name)) {
					continue
				}
				if known++; f.DataAtom == atom.Input && attr(f, "type") == "hidden" && name != "key" && name != "revision" &&
					name != "version" &&
					!slices.Contains(posted[name], attr(f, "value")) {
					same = false
				}
			}
			if same && known > most {
				best, most = n, known
			}
		}
	}
	return best
}

// fill sets the fields of a form.
func fill(form *html.Node, posted url.Values) {
	for f := range elements(form) {
		name := attr(f, "name")
		if name == "" {
			continue
		}
		switch f.DataAtom {
		case atom.Input:
			switch attr(f, "type") {
			case "hidden", "submit", "button", "password": // a password is not sent back
			case "checkbox", "radio":
				setIf(f, "checked", slices.Contains(posted[name], attr(f, "value")))
			default:
				if posted.Has(name) {
					set(f, "value", posted.Get(name))
				}
			}
		case atom.Textarea:
			if posted.Has(name) {
				for f.FirstChild != nil {
					f.RemoveChild(f.FirstChild)
				}
				f.AppendChild(&html.Node{Type: html.TextNode, Data: posted.Get(name)})
			}
		case atom.Select:
			if !posted.Has(name) {
				continue
			}
			for o := range elements(f) {
				if o.DataAtom == atom.Option {
					setIf(o, "selected", slices.Contains(posted[name], valueOf(o)))
				}
			}
		}
	}
}

// offers says whether a choice can be made.
func offers(choice *html.Node, value string) bool {
	for o := range elements(choice) {
		if o.DataAtom == atom.Option && valueOf(o) == value {
			return true
		}
	}
	return false
}

// valueOf is what an option stands for: its value, or its text where it has none.
func valueOf(option *html.Node) string {
	for _, a := range option.Attr {
		if a.Key == "value" {
			return a.Val
		}
	}
	var text strings.Builder
	for n := range option.Descendants() {
		if n.Type == html.TextNode {
			text.WriteString(n.Data)
		}
	}
	return strings.TrimSpace(text.String())
}

func elements(n *html.Node) func(func(*html.Node) bool) {
	return func(yield func(*html.Node) bool) {
		for d := range n.Descendants() {
			if d.Type == html.ElementNode && !yield(d) {
				return
			}
		}
	}
}

func attr(n *html.Node, key string) string {
	for _, a := range n.Attr {
		if a.Key == key {
			return a.Val
		}
	}
	return ""
}

func set(n *html.Node, key, value string) {
	setIf(n, key, false)
	n.Attr = append(n.Attr, html.Attribute{Key: key, Val: value})
}

func setIf(n *html.Node, key string, on bool) {
	n.Attr = slices.DeleteFunc(n.Attr, func(a html.Attribute) bool { return a.Key == key })
	if on {
		n.Attr = append(n.Attr, html.Attribute{Key: key})
	}
}
