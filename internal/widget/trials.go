package widget

import (
	"crypto/sha256"
	"slices"
	"strings"
	"sync"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/setting"
	"glasspocket/internal/shape"
	"glasspocket/internal/view"
)

// Trials tries folders under development, and caches the slow steps by the files' content, since
// most keystrokes change one file. It is safe for concurrent use.
type Trials struct {
	by   Trier
	mu   sync.Mutex
	kept []reading // the oldest first
}

type reading struct {
	of   [sha256.Size]byte
	made any
}

const readingsKept = 64

// NewTrials returns Trials that build mount modules with b.
func NewTrials(b Trier) *Trials { return &Trials{by: b} }

// Try reads a folder under development. The trial is nil if nothing can be shown. If there are
// faults, it may still exist; the faults only prevent a release. Unlike Read, Try does not try
// every starter in every language. assets are the processed assets of the folder.
func (t *Trials) Try(files Files, assets map[string]asset.Made) (*Trial, fault.List) {
	trial := &Trial{}
	var marked *view.Marked
	mark := func(src []byte, types map[string]*shape.Type) (*view.View, fault.List) {
		var faults fault.List
		if marked, faults = view.Mark(src, types); marked == nil {
			return nil, faults
		}
		return marked.View, faults
	}
	b := &trying{Opened{Built: Built{Assets: assets}}, t, trial}
	r, faults := read(files, b, mode{view: mark, schema: b.schema, style: b.style, trial: true})
	if r == nil {
		return nil, faults
	}
	r.marked, trial.Release = marked, r
	trial.Elements = inUnits(files[ViewFile], marked.Elements)
	return trial, faults
}

// keep returns make's result for texts, from the cache if possible. The result is shared, so never
// change it.
func keep[T any](t *Trials, make func() T, of ...string) T {
	h := sha256.New()
	for _, text := range of {
		sum := sha256.Sum256([]byte(text)) // a separator, so that the boundary between texts matters
		h.Write(sum[:])
	}
	key := [sha256.Size]byte(h.Sum(nil))
	t.mu.Lock()
	for _, k := range t.kept {
		if k.of == key {
			t.mu.Unlock()
			return k.made.(T)
		}
	}
	t.mu.Unlock()
	made := make()
	t.mu.Lock()
	defer t.mu.Unlock()
	if len(t.kept) >= readingsKept {
		t.kept = slices.Delete(t.kept, 0, 1)
	}
	t.kept = append(t.kept, reading{key, made})
	return made
}

// trying is the Builder of a trial.
type trying struct {
	Opened // for the parts that are not built again
	trials *Trials
	into   *Trial
}

type readSchema struct {
	schema *setting.Schema
	faults fault.List
}

func (t *trying) schema(src []byte, folder setting.Folder) (*setting.Schema, fault.List) {
	of := []string{SchemaFile, string(src)}
	for path, made := range t.Built.Assets {
		of = append(of, path+" "+made.Digest)
	}
	slices.Sort(of[2:])
	made := keep(t.trials, func() readSchema {
		schema, faults := setting.ReadSchema(src, folder)
		return readSchema{schema, faults}
	}, of...)
	return made.schema, made.faults
}

func (t *trying) style(src []byte) fault.List {
	return keep(t.trials, func() fault.List { return checkNewStyle(src) }, StyleFile, string(src))
}

type builtMount struct {
	code, sourceMap string
	faults          fault.List
}

func (t *trying) Mount(files Files, entry string) (string, fault.List) {
	of := []string{"mount", entry}
	for _, p := range files.Paths() {
		if strings.HasSuffix(p, ".ts") || strings.HasSuffix(p, ".js") {
			of = append(of, p, string(files[p]))
		}
	}
	made := keep(t.trials, func() builtMount {
		code, sourceMap, faults := t.trials.by.TryMount(files, entry)
		return builtMount{code, sourceMap, faults}
	}, of...)
	t.into.Map = made.sourceMap
	return made.code, made.faults
}
