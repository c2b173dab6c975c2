// Package schema carries the published JSON Schemas (draft 2020-12) of every
// file format, so that the program checks what it reads and writes against the
// same text that other programs are given.
package schema

import "embed"

// Files holds restbend.NAME-1.json for each format.
//
//go:embed *.json
var Files embed.FS
