// Package mail writes letters with what is attached to them (RFC 5322, MIME), and hands them
// to whoever takes them: a folder, from which nothing is ever sent, or a mail server that
// somebody has set up.
package mail

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net/mail"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	gomail "github.com/wneessen/go-mail"
)

// Letter is one mail.
type Letter struct {
	FromName, From string
	To             string
	Subject, Text  string
	ID             string // unique
	Date           time.Time
	Files          []File
}

// File is something attached.
type File struct {
	Name, Type string
	Body       []byte
}

// Sender takes letters.
type Sender interface {
	// Send hands a letter over and says in words where it went.
	Send(ctx context.Context, l Letter) (string, error)
}

// Wrong is a letter that cannot be: which field, and what was expected.
type Wrong struct{ Field, Want string }

func (w *Wrong) Error() string { return w.Field + ": " + w.Want }

// message is the letter as it is written.
func (l Letter) message() (*gomail.Msg, error) {
	m := gomail.NewMsg()
	for field, text := range map[string]string{"subject": l.Subject, "sender": l.FromName, "to": l.To} {
		if strings.ContainsAny(text, "\r\n") {
			return nil, &Wrong{field, "has more than one line"}
		}
	}
	if err := m.FromFormat(l.FromName, l.From); err != nil {
		return nil, &Wrong{"sender", fmt.Sprintf("%q is no address", l.From)}
	}
	if a, err := mail.ParseAddress(l.To); err != nil || !strings.Contains(a.Address[strings.LastIndex(a.Address, "@")+1:], ".") {
		return nil, &Wrong{"to", fmt.Sprintf("%q is no address; expected one such as name@example.org", l.To)}
	}
	if err := m.To(l.To); err != nil {
		return nil, &Wrong{"to", fmt.Sprintf("%q is no address; expected one such as name@example.org", l.To)}
	}
	m.Subject(l.Subject)
	m.SetMessageIDWithValue(l.ID + "@restbend.invalid")
	m.SetDateWithValue(l.Date)
	m.SetBodyString(gomail.TypeTextPlain, l.Text)
	for _, f := range l.Files {
		if err := m.AttachReader(f.Name, bytes.NewReader(f.Body), gomail.WithFileContentType(gomail.ContentType(f.Type))); err != nil {
			return nil, err
		}
	}
	return m, nil
}

// Folder keeps letters as files and sends nothing.
type Folder struct{ Dir string }

// Send writes the letter into the folder.
func (f Folder) Send(_ context.Context, l Letter) (string, error) {
	m, err := l.message()
	if err != nil {
		return "", err
	}
	if err := os.MkdirAll(f.Dir, 0o700); err != nil {
		return "", err
	}
	name := filepath.Join(f.Dir, l.Date.UTC().Format("20060102-150405-")+l.ID+".eml")
	out, err := os.OpenFile(name, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return "", err
	}
	if _, err := m.WriteTo(out); err != nil {
		out.Close()
		os.Remove(name) // nothing half written
		return "", err
	}
	return "the folder for letters; nothing was sent", out.Close()
}

// Kept is a letter in the folder.
type Kept struct {
	Name, To, Subject string
	Date              time.Time
}

// List are the letters of the folder, the newest first. A file that is no letter is left out.
func (f Folder) List() ([]Kept, error) {
	entries, err := os.ReadDir(f.Dir)
	if errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	var out []Kept
	for _, e := range entries {
		if !strings.HasSuffix(e.Name(), ".eml") {
			continue
		}
		file, err := os.Open(filepath.Join(f.Dir, e.Name()))
		if err != nil {
			return nil, err
		}
		m, err := mail.ReadMessage(file)
		file.Close()
		if err != nil {
			continue
		}
		k := Kept{Name: e.Name(), To: m.Header.Get("To"), Subject: m.Header.Get("Subject")}
		k.Date, _ = m.Header.Date() // a letter without one is the oldest
		if a, err := mail.ParseAddress(k.To); err == nil {
			k.To = a.Address
		}
		out = append(out, k)
	}
	slices.SortFunc(out, func(a, b Kept) int { return strings.Compare(b.Name, a.Name) })
	return out, nil
}

// Read is a letter of the folder as it stands.
func (f Folder) Read(name string) ([]byte, error) {
	if name != filepath.Base(name) || !strings.HasSuffix(name, ".eml") {
		return nil, os.ErrNotExist
	}
	return os.ReadFile(filepath.Join(f.Dir, name))
}

// Server sends letters by SMTP with the connection secured.
type Server struct {
	Host           string
	Port           int
	User, Password string // empty for a server that asks for none
	Plain          bool   // without TLS: for a stand-in on this machine alone
}

// Send hands the letter to the server.
func (s Server) Send(ctx context.Context, l Letter) (string, error) {
	m, err := l.message()
	if err != nil {
		return "", err
	}
	options := []gomail.Option{gomail.WithPort(s.Port), gomail.WithTLSPolicy(gomail.TLSMandatory), gomail.WithTimeout(20 * time.Second)}
	if s.Plain {
		options = append(options, gomail.WithTLSPolicy(gomail.NoTLS))
	}
	if s.User != "" {
		options = append(options,
			gomail.WithSMTPAuth(gomail.SMTPAuthAutoDiscover),
			gomail.WithUsername(s.User),
			gomail.WithPassword(s.Password),
		)
	}
	c, err := gomail.NewClient(s.Host, options...)
	if err != nil {
		return "", err
	}
	if err := c.DialAndSendWithContext(ctx, m); err != nil {
		return "", fmt.Errorf("the mail server %s did not take it: %w", s.Host, err)
	}
	return l.To + ", by " + s.Host, nil
}
