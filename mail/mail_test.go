package mail_test

import (
	"bufio"
	"bytes"
	"context"
	"io"
	"mime"
	"mime/multipart"
	"net"
	netmail "net/mail"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"restbend/mail"
)

var letter = mail.Letter{
	FromName: "Lantern Loft",
	From:     "loft@restbend.invalid",
	To:       "ada@example.org",
	Subject:  "At home, März",
	Text:     "Your exercises.\n.\nA dot stands alone above.",
	ID:       "one",
	Date: time.Date(
		2026,
		11,
		25,
		9,
		0,
		0,
		0,
		time.UTC,
	),
	Files: []mail.File{{"at-home.pdf", "application/pdf", []byte("%PDF-")}, {"at-home.html", "text/html", []byte("<p>ü</p>")}},
}

// TestALetterReadsBack from the folder, with what is attached, and nothing is sent.
func TestALetterReadsBack(t *testing.T) {
	f := mail.Folder{Dir: t.TempDir() + "/outbox"}
	none, err := f.List()
	require.NoError(t, err)
	assert.Empty(t, none)
	where, err := f.Send(context.Background(), letter)
	require.NoError(t, err)
	assert.Contains(t, where, "nothing was sent")
	kept, err := f.List()
	require.NoError(t, err)
	require.Len(t, kept, 1)
	assert.Equal(t, "ada@example.org", kept[0].To)
	b, err := f.Read(kept[0].Name)
	require.NoError(t, err)
	m, err := netmail.ReadMessage(bytes.NewReader(b))
	require.NoError(t, err)
	subject, err := new(mime.WordDecoder).DecodeHeader(m.Header.Get("Subject"))
	require.NoError(t, err)
	assert.Equal(t, letter.Subject, subject)
	kind, params, err := mime.ParseMediaType(m.Header.Get("Content-Type"))
	require.NoError(t, err)
	assert.Equal(t, "multipart/mixed", kind)
	parts := multipart.NewReader(m.Body, params["boundary"])
	var names []string
	for {
		p, err := parts.NextPart()
		if err == io.EOF {
			break
		}
		require.NoError(t, err)
		names = append(names, p.FileName())
	}
	assert.Equal(t, []string{"", "at-home.pdf", "at-home.html"}, names)
	for _, name := range []string{"../one.eml", "none.eml", "one.txt"} {
		_, err := f.Read(name)
		assert.ErrorIs(t, err, os.ErrNotExist, name)
	}
	_, err = f.Send(context.Background(), letter)
	assert.Error(t, err, "one letter is written once")
	for field, change := range map[string]func(*mail.Letter){
		"to":      func(l *mail.Letter) { l.To = "ada" },
		"subject": func(l *mail.Letter) { l.Subject = "a\r\nBcc: all@example.org" },
		"sender":  func(l *mail.Letter) { l.From = "nowhere" },
	} {
		l := letter
		change(&l)
		_, err := f.Send(context.Background(), l)
		var wrong *mail.Wrong
		require.ErrorAs(t, err, &wrong, field)
		assert.Equal(t, field, wrong.Field)
	}
}

// TestAServerTakesALetter: a stand-in on this machine gets it whole; one that refuses is said.
func TestAServerTakesALetter(t *testing.T) {
	standIn := func(refuse bool) (host string, port int, got chan string) {
		l, err := net.Listen("tcp", "127.0.0.1:0")
		require.NoError(t, err)
		t.Cleanup(func() { l.Close() })
		got = make(chan string, 1)
		go func() {
			c, err := l.Accept()
			if err != nil {
				return
			}
			defer c.Close()
			in := bufio.NewReader(c)
			say := func(s string) { io.WriteString(c, s+"\r\n") }
			say("220 stand-in")
			for {
				line, err := in.ReadString('\n')
				if err != nil {
					return
				}
				switch verb := strings.ToUpper(strings.Fields(line + " x")[0]); verb {
				case "EHLO", "HELO":
					say("250 stand-in")
				case "RCPT":
					if refuse {
						say("550 nobody here")
						continue
					}
					say("250 ok")
				case "DATA":
					say("354 go on")
					var all strings.Builder
					for {
						line, err := in.ReadString('\n')
						if err != nil || line == ".\r\n" {
							break
						}
						all.WriteString(line)
					}
					got <- all.String()
					say("250 ok")
				case "QUIT":
					say("221 bye")
					return
				default:
					say("250 ok")
				}
			}
		}()
		a := l.Addr().(*net.TCPAddr)
		return a.IP.String(), a.Port, got
	}
	host, port, got := standIn(false)
	where, err := mail.Server{Host: host, Port: port, Plain: true}.Send(context.Background(), letter)
	require.NoError(t, err)
	assert.Contains(t, where, "ada@example.org")
	text := <-got
	assert.Contains(t, text, "To: <ada@example.org>")
	assert.Contains(t, text, "at-home.pdf")
	host, port, _ = standIn(true)
	_, err = mail.Server{Host: host, Port: port, Plain: true}.Send(context.Background(), letter)
	assert.ErrorContains(t, err, "did not take it")
}
