package web

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"maps"
	"regexp"

	"github.com/gin-gonic/gin"

	"restbend/formats"
	"restbend/store"
)

// Every form that is shown carries a key of its own, so that what it asks for is done
// once however often it is sent.

// postForm is the opening of a form that changes something, unless it brings its own key.
var postForm = regexp.MustCompile(`<form[^>]*\bmethod="post"[^>]*>`)

var ownKey = regexp.MustCompile(`\bdata-keyed\b`)

// splitAtForms cuts a page after the opening of each form that is to be given a key.
func splitAtForms(page []byte) [][]byte {
	var parts [][]byte
	from := 0
	for _, at := range postForm.FindAllIndex(page, -1) {
		if !ownKey.Match(page[at[0]:at[1]]) {
			parts = append(parts, page[from:at[1]])
			from = at[1]
		}
	}
	return append(parts, page[from:])
}

// withKeys puts a page together again, with a new key at each cut.
func withKeys(parts [][]byte) []byte {
	var b bytes.Buffer
	of := store.NewID() // the page; its forms are told apart by their number, which compresses better
	for i, part := range parts {
		if i > 0 {
			fmt.Fprintf(&b, `<input type="hidden" name="key" value="%s.%d">`, of, i)
		}
		b.Write(part)
	}
	return b.Bytes()
}

// submittedForm is the form of a request: its key, and a digest of what it says.
func submittedForm(c *gin.Context) (store.Form, error) {
	key := c.PostForm("key")
	if len(key) > 64 {
		return store.Form{}, &formats.Invalid{Path: "key", Want: "is none of this program; reload the page"}
	}
	says := maps.Clone(c.Request.PostForm)
	delete(says, "key")
	digest := sha256.Sum256([]byte(c.Request.URL.Path + "?" + says.Encode()))
	return store.Form{Key: key, Digest: hex.EncodeToString(digest[:])}, nil
}

// idempotent does what a form asks for, in one change, and gives back what it made: now, or
// when it was sent before.
func (w *site) idempotent(c *gin.Context, do func(ctx context.Context) (string, error)) (string, error) {
	f, err := submittedForm(c)
	if err != nil {
		return "", err
	}
	if made, done, err := w.Store.Made(c.Request.Context(), f); done || err != nil {
		return made, err
	}
	made, err := do(store.Sent(c.Request.Context(), f))
	if err != nil { // its twin may have been faster
		if before, done, _ := w.Store.Made(c.Request.Context(), f); done {
			return before, nil
		}
	}
	return made, err
}

// idempotentOnly is idempotent for a change that makes nothing to redirect to.
func (w *site) idempotentOnly(c *gin.Context, do func(ctx context.Context) error) error {
	_, err := w.idempotent(c, func(ctx context.Context) (string, error) { return "", do(ctx) })
	return err
}
