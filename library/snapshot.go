package library

import (
	"crypto/sha256"
	_ "embed" // of what was kept
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"sync"

	"github.com/fxamacker/cbor/v2"
	"github.com/klauspost/compress/zstd"

	"restbend/core/exercise"
	"restbend/core/limit"
)

// The library as it is read and measured is kept in one file beside its sources, so that
// a start takes no measuring. Where the sources are others than it was made from, it is
// not used. After a change of the library, of measuring or of posing: go generate ./library

//go:generate go test . -run Snapshot -snapshot

//go:embed snapshot.bin
var snapshotFile []byte

// snapshot is what stands in the file.
type snapshot struct {
	Sources    string // a hash of the files
	Hash       string // of the library; see Library
	StandIns   map[string][]string
	Conditions limit.Conditions
	Families   []snapshotFamily
}

type snapshotFamily struct {
	ID, Name, Why string
	Variants      []snapshotVariant
}

type snapshotVariant struct {
	Variant exercise.Variant
	Kept    []byte // an exercise.Kept, packed
}

// sources is a hash of all files of a library.
func sources(files fs.FS) (string, error) {
	hash := sha256.New()
	err := fs.WalkDir(files, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		b, err := fs.ReadFile(files, name)
		fmt.Fprintf(hash, "%s %d\n", name, len(b))
		hash.Write(b)
		return err
	})
	return hex.EncodeToString(hash.Sum(nil)), err
}

// packing writes values and makes them small, unpacking reads them back; a wrong option
// would show at the first start.
var (
	packing, _  = cbor.EncOptions{Sort: cbor.SortBytewiseLexical}.EncMode()
	smaller, _  = zstd.NewWriter(nil, zstd.WithEncoderLevel(zstd.SpeedBestCompression), zstd.WithEncoderConcurrency(1))
	unpacked, _ = zstd.NewReader(nil)
)

func pack(v any) ([]byte, error) {
	b, err := packing.Marshal(v)
	return smaller.EncodeAll(b, nil), err
}

func unpack(b []byte, into any) error {
	b, err := unpacked.DecodeAll(b, nil)
	if err != nil {
		return err
	}
	return cbor.Unmarshal(b, into)
}

// snapshot packs a library that was read from files.
func (l *Library) snapshot(files fs.FS) ([]byte, error) {
	from, err := sources(files)
	if err != nil {
		return nil, err
	}
	packed, wrong := make([][]byte, len(l.Variants)), make([]error, len(l.Variants))
	var working sync.WaitGroup
	for i, v := range l.Variants {
		working.Go(func() {
			all, err := v.Snapshot()
			if err == nil {
				packed[i], err = pack(all)
			}
			if err != nil {
				wrong[i] = fmt.Errorf("variant %s: %w", v.ID, err)
			}
		})
	}
	working.Wait()
	if err := errors.Join(wrong...); err != nil {
		return nil, err
	}
	out := snapshot{Sources: from, Hash: l.Hash, StandIns: l.StandIns, Conditions: l.Conditions}
	for _, f := range l.Families {
		k := snapshotFamily{ID: f.ID, Name: f.Name, Why: f.Why}
		for _, v := range f.Variants {
			k.Variants, packed = append(k.Variants, snapshotVariant{*v, packed[0]}), packed[1:]
		}
		out.Families = append(out.Families, k)
	}
	return pack(out)
}

// restore is the library that was kept; nil where none was, or from other files.
func restore(files fs.FS, b []byte) (*Library, error) {
	var k snapshot
	if err := unpack(b, &k); err != nil {
		return nil, nil
	}
	if from, err := sources(files); err != nil || from != k.Sources {
		return nil, err
	}
	l := &Library{StandIns: k.StandIns, Conditions: k.Conditions, Hash: k.Hash, byID: map[string]*exercise.Variant{}}
	for _, f := range k.Families {
		family := &exercise.Family{ID: f.ID, Name: f.Name, Why: f.Why}
		for i := range f.Variants {
			v := &f.Variants[i].Variant
			v.Restore(func() (out exercise.Snapshot) {
				if err := unpack(f.Variants[i].Kept, &out); err != nil {
					panic(fmt.Sprintf("variant %s was kept badly: %v", v.ID, err)) // a test reads every one
				}
				return out
			})
			family.Variants = append(family.Variants, v)
			l.Variants = append(l.Variants, v)
			l.byID[v.ID] = v
		}
		l.Families = append(l.Families, family)
	}
	return l, nil
}
