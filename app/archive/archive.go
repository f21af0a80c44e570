// Package archive takes everything out of a store as one zip of open files, and brings
// it in again: lights with their revisions, the cabinet with its ids, the bins.
//
//	photherm.json                what this is
//	lights/ID/light.json         name, times, and of each revision what it was
//	lights/ID/revisions/N.json   its document, as it was stored
//	lights/ID/logs/LOG.json      what a log of it is
//	lights/ID/logs/LOG.csv       and its readings
//	lights/ID/photos/PHOTO.json  what a photo of it is
//	lights/ID/photos/PHOTO.jpeg  and the picture, or .png
//	cabinet/ID/kept.json         number on hand and times
//	cabinet/ID/part.json         the part's document
package archive

import (
	"archive/zip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"path"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"photherm/app/store"
)

// head is what an archive says of itself.
type head struct {
	Format  string `json:"format"`
	Version int    `json:"version"`
}

const (
	format   = "photherm/archive"
	version  = 1
	headFile = "photherm.json"
)

// ErrNotOne is the error of a file that is no archive, or not a whole one. What it says
// after the colon is for people.
var ErrNotOne = errors.New("this file cannot be brought in")

// Progress is told how many of how many lights and parts are done.
type Progress func(done, of int)

// Write takes everything out. What progress is told first, before anything is written, is
// how much there is.
func Write(ctx context.Context, w io.Writer, s *store.Store, progress Progress) error {
	z := zip.NewWriter(w)
	var begun error
	done, of := 0, 0
	step := func() {
		done++
		progress(done, of)
	}
	err := s.Everything(ctx, func(lights, parts int) {
		of = lights + parts
		progress(0, of)
		begun = put(z, headFile, head{format, version})
	}, func(h *store.History) error {
		defer step()
		if err := put(z, "lights/"+h.ID+"/light.json", h); err != nil {
			return err
		}
		for i := range h.Revisions {
			if err := putRaw(z, revisionFile(h.ID, i), h.Revisions[i].Document); err != nil {
				return err
			}
		}
		if err := putLogs(ctx, z, s, h.ID); err != nil {
			return err
		}
		return putPhotos(ctx, z, s, h.ID)
	}, func(p *store.KeptPart) error {
		defer step()
		if err := put(z, "cabinet/"+p.ID+"/kept.json", p); err != nil {
			return err
		}
		return putRaw(z, partFile(p.ID), p.Document)
	})
	if err = errors.Join(begun, err); err != nil {
		return err
	}
	if err := z.Close(); err != nil {
		return fmt.Errorf("writing the archive: %w", err)
	}
	return nil
}

func revisionFile(id string, i int) string {
	return fmt.Sprintf("lights/%s/revisions/%d.json", id, i+1)
}
func partFile(id string) string { return "cabinet/" + id + "/part.json" }

func put(z *zip.Writer, name string, v any) error {
	data, err := json.MarshalIndent(v, "", "  ")
	if err != nil {
		return fmt.Errorf("writing %s: %w", name, err)
	}
	return putRaw(z, name, append(data, '\n'))
}

func putRaw(z *zip.Writer, name string, data []byte) error {
	f, err := z.Create(name)
	if err == nil {
		_, err = f.Write(data)
	}
	if err != nil {
		return fmt.Errorf("writing %s: %w", name, err)
	}
	return nil
}

// Report is what came of bringing an archive in.
type Report struct {
	Added     int     `json:"added" doc:"Lights and parts that were not here"`
	Continued int     `json:"continued" doc:"Lights that were here at an earlier state and have come on"`
	There     int     `json:"there" doc:"Lights and parts that were here already, in this state or a later one"`
	Copied    int     `json:"copied" doc:"Those that differ from what is here and were put beside it"`
	Differing []Named `json:"differing" nullable:"false" doc:"Those that differ from what is here and were left out"`
}

// Named is a light or a part in a report.
type Named struct {
	Kind string `json:"kind" enum:"light,part"`
	ID   string `json:"id"`
	Name string `json:"name"`
}

func (r *Report) count(o store.Outcome, n Named) {
	switch o {
	case store.Added:
		r.Added++
	case store.Continued:
		r.Continued++
	case store.There:
		r.There++
	case store.Copied:
		r.Copied++
	case store.Differs:
		r.Differing = append(r.Differing, n)
	}
}

// An Archive is one that was read once without a fault.
type Archive struct {
	files         map[string]*zip.File
	lights, parts []string
	logs, photos  map[string][]string // of each light
}

// Open reads an archive through; the error of a file that is none, or damaged, is
// ErrNotOne.
func Open(r io.ReaderAt, size int64) (*Archive, error) {
	a, err := list(r, size)
	if err != nil {
		return nil, err
	}
	for _, id := range a.lights {
		if _, err := a.light(id); err != nil {
			return nil, err
		}
	}
	for light, logs := range a.logs {
		for _, id := range logs {
			if _, err := a.log(light, id); err != nil {
				return nil, err
			}
		}
	}
	for light, photos := range a.photos {
		for _, id := range photos {
			if _, _, err := a.photo(light, id); err != nil {
				return nil, err
			}
		}
	}
	for _, id := range a.parts {
		if _, err := a.part(id); err != nil {
			return nil, err
		}
	}
	return a, nil
}

// TakeIn brings everything into a store; beside puts what differs from what is there
// beside it, otherwise it is left out and reported.
func (a *Archive) TakeIn(ctx context.Context, s *store.Store, beside bool, progress Progress) (*Report, error) {
	report := &Report{Differing: []Named{}}
	done, of := 0, len(a.lights)+len(a.parts)
	progress(0, of)
	for _, id := range a.lights {
		h, err := a.light(id)
		if err != nil {
			return nil, err
		}
		o, err := s.TakeIn(ctx, h, beside)
		if err != nil {
			return nil, err
		}
		if err := errors.Join(a.takeInLogs(ctx, s, id, o), a.takeInPhotos(ctx, s, id, o)); err != nil {
			return nil, err
		}
		report.count(o, Named{"light", h.ID, h.Name})
		done++
		progress(done, of)
	}
	for _, id := range a.parts {
		p, err := a.part(id)
		if err != nil {
			return nil, err
		}
		o, err := s.TakeInPart(ctx, p, beside)
		if err != nil {
			return nil, err
		}
		report.count(o, Named{"part", p.ID, p.Name})
		done++
		progress(done, of)
	}
	return report, nil
}

func unfit(why string, a ...any) error {
	return fmt.Errorf("%w: "+why, append([]any{ErrNotOne}, a...)...)
}

func list(r io.ReaderAt, size int64) (*Archive, error) {
	z, err := zip.NewReader(r, size)
	if err != nil {
		return nil, unfit("it is not a zip archive, or not a whole one")
	}
	a := &Archive{files: map[string]*zip.File{}, logs: map[string][]string{}, photos: map[string][]string{}}
	for _, f := range z.File {
		if a.files[f.Name] != nil {
			return nil, unfit("it holds %s twice", f.Name)
		}
		a.files[f.Name] = f
		switch dir, name := path.Split(f.Name); {
		case name == "light.json" && strings.HasPrefix(dir, "lights/"):
			a.lights = append(a.lights, path.Base(dir))
		case strings.HasSuffix(name, ".json") && path.Base(dir) == "logs" && strings.HasPrefix(dir, "lights/"):
			light := path.Base(path.Dir(path.Clean(dir)))
			a.logs[light] = append(a.logs[light], strings.TrimSuffix(name, ".json"))
		case strings.HasSuffix(name, ".json") && path.Base(dir) == "photos" && strings.HasPrefix(dir, "lights/"):
			light := path.Base(path.Dir(path.Clean(dir)))
			a.photos[light] = append(a.photos[light], strings.TrimSuffix(name, ".json"))
		case name == "kept.json" && strings.HasPrefix(dir, "cabinet/"):
			a.parts = append(a.parts, path.Base(dir))
		}
	}
	var h head
	if err := a.read(headFile, &h); err != nil {
		return nil, unfit("it is a zip, but not an archive of this program")
	}
	if h.Format != format || h.Version != version {
		return nil, unfit("it is %s, version %d; this program reads %s, version %d", h.Format, h.Version, format, version)
	}
	slices.Sort(a.lights)
	slices.Sort(a.parts)
	return a, nil
}

// mostBytes bounds a document: that of the HTTP interface with room for the old.
const mostBytes = 16 << 20

func (a *Archive) raw(name string) ([]byte, error) { return a.rawUpTo(name, mostBytes) }

func (a *Archive) rawUpTo(name string, mostBytes int) ([]byte, error) {
	data, err := a.bytes(name, mostBytes)
	if err == nil && !utf8.Valid(data) {
		err = unfit("%s is not a document", name)
	}
	return data, err
}

func (a *Archive) bytes(name string, mostBytes int) ([]byte, error) {
	f := a.files[name]
	if f == nil {
		return nil, unfit("%s is missing", name)
	}
	r, err := f.Open()
	if err != nil {
		return nil, unfit("%s cannot be read", name)
	}
	defer r.Close()
	data, err := io.ReadAll(io.LimitReader(r, int64(mostBytes)+1))
	if err != nil {
		return nil, unfit("%s is damaged", name)
	}
	if len(data) > mostBytes {
		return nil, unfit("%s is too large", name)
	}
	return data, nil
}

func (a *Archive) read(name string, v any) error {
	data, err := a.raw(name)
	if err != nil {
		return err
	}
	if err := json.Unmarshal(data, v); err != nil {
		return unfit("%s is not understood", name)
	}
	return nil
}

var wellFormedID = regexp.MustCompile(`^[a-z2-7]{16}$`)

// fits tells whether the columns of the store take a text.
func fits(text string, most int) bool { return utf8.RuneCountInString(text) <= most }

// dated tells whether they take a time.
func dated(times ...time.Time) bool {
	return !slices.ContainsFunc(times, func(t time.Time) bool { return t.Year() < 1970 || t.Year() > 9000 })
}

func deletedAt(t *time.Time) time.Time {
	if t == nil {
		return time.Unix(0, 0)
	}
	return *t
}

func (a *Archive) light(id string) (*store.History, error) {
	name := "lights/" + id + "/light.json"
	h := new(store.History)
	if err := a.read(name, h); err != nil {
		return nil, err
	}
	n := len(h.Revisions)
	if h.ID != id || !wellFormedID.MatchString(id) || n == 0 || !fits(h.Name, 120) || !fits(h.Progress, 16) || !dated(h.CreatedAt, h.UpdatedAt, deletedAt(h.DeletedAt)) {
		return nil, unfit("%s is not understood", name)
	}
	for i := range h.Revisions {
		r := &h.Revisions[i]
		for _, to := range []*int{r.UndoTo, r.RedoTo} {
			if to != nil && (*to < 1 || *to > n) {
				return nil, unfit("%s names a revision that is not there", name)
			}
		}
		if !fits(r.Label, 120) || !fits(r.Tab, 64) || !dated(r.CreatedAt) {
			return nil, unfit("%s is not understood", name)
		}
		var err error
		if r.Document, err = a.raw(revisionFile(id, i)); err != nil {
			return nil, err
		}
	}
	return h, nil
}

func (a *Archive) part(id string) (*store.KeptPart, error) {
	name := "cabinet/" + id + "/kept.json"
	p := new(store.KeptPart)
	if err := a.read(name, p); err != nil {
		return nil, err
	}
	if p.ID != id || !wellFormedID.MatchString(id) || p.Revision < 1 || p.Stock < 0 || p.Stock > store.MostStock || !fits(p.Name, 120) || !fits(p.Kind, 16) ||
		!dated(p.CreatedAt, p.UpdatedAt, deletedAt(p.DeletedAt)) {
		return nil, unfit("%s is not understood", name)
	}
	var err error
	p.Document, err = a.raw(partFile(id))
	return p, err
}
