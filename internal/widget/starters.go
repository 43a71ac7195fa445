package widget

import (
	"fmt"
	"path"
	"reflect"
	"slices"
	"time"

	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/message"
	"glasspocket/internal/setting"
)

// Starter is a named set of settings to start with.
type Starter struct {
	Name     string         `json:"name"`
	Title    message.Words  `json:"title"`
	Summary  message.Words  `json:"summary,omitempty"`
	Search   message.Words  `json:"search,omitempty"`  // search synonyms, in addition to title and summary
	Heights  []Height       `json:"heights,omitempty"` // the manifest's if empty
	Settings setting.Values `json:"settings"`
}

// Floats reports whether the starter takes no space in the page, such as a corner note.
func (s Starter) Floats() bool {
	return len(s.Heights) > 0 && !slices.ContainsFunc(s.Heights, func(h Height) bool { return h.Height > 1 })
}

// The keys of a starter and of sample.json.
var (
	StarterKeys = []jsondoc.Key{
		{Name: "title", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "title, by language"},
		{Name: "summary", Is: []jsondoc.Kind{jsondoc.Object}, About: "one-sentence summary, by language"},
		{Name: "search", Is: []jsondoc.Kind{jsondoc.Object}, About: "as in the manifest"},
		{Name: "heights", Is: []jsondoc.Kind{jsondoc.Array}, About: "as in the manifest, which they override"},
		{Name: "settings", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "values by setting; values for small screens under `small`"},
	}
	SampleKeys = []jsondoc.Key{{Name: "settings", Must: true, Is: []jsondoc.Kind{jsondoc.Object}, About: "values by setting; a date and time can be a duration from now with a time zone, `P12DT4H[Europe/Berlin]`, or with a minus sign for the past"}}
)

func (r *Release) readStarters(add func(string, fault.List)) {
	for _, name := range r.Files.under(startersDir) {
		file := path.Join(startersDir, name+".json")
		doc, faults := jsondoc.Read(r.Files[file])
		if doc != nil {
			more := doc.Expect("a starter", StarterKeys)
			faults = append(faults, more...)
			if !NameForm.MatchString(name) {
				faults = append(faults, fault.Fault{Code: fault.BadName, What: fmt.Sprintf("%q is not a valid starter name.", name), Fix: "Rename the file. Use lower-case letters, digits and hyphens."})
			}
			if len(more) == 0 {
				s := Starter{Name: name}
				s.Title, more = message.ReadWords(doc.Get("title"), "title")
				faults = append(faults, more...)
				for key, into := range map[string]*message.Words{"summary": &s.Summary, "search": &s.Search} {
					if v := doc.Get(key); v != nil {
						*into, more = message.ReadWords(v, key)
						faults = append(faults, more...)
					}
				}
				s.Heights, more = readHeights(doc.Get("heights"))
				faults = append(faults, more...)
				s.Settings, more = r.Schema.Check(doc.Get("settings"))
				faults = append(faults, more...)
				r.Starters = append(r.Starters, s)
			}
		}
		add(file, faults)
	}
}

func (r *Release) readSample(add func(string, fault.List)) {
	src := r.Files[SampleFile]
	if src == nil {
		return
	}
	doc, faults := jsondoc.Read(src)
	if doc != nil {
		more := doc.Expect("the sample", SampleKeys)
		faults = append(faults, more...)
		if len(more) == 0 {
			r.sample = doc.Get("settings")
			_, more = r.Sample(time.Now())
			faults = append(faults, more...)
		}
	}
	add(SampleFile, faults)
}

// Sample returns the sample content, with moments relative to now.
func (r *Release) Sample(now time.Time) (setting.Values, fault.List) {
	if r.sample == nil {
		return setting.Values{}, nil
	}
	fresh := r.sample.Clone() // CheckSample changes its argument
	return r.Schema.CheckSample(fresh, now)
}

// Starter returns the starter called name, or false.
func (r *Release) Starter(name string) (Starter, bool) {
	for _, s := range r.Starters {
		if s.Name == name {
			return s, true
		}
	}
	return Starter{}, false
}

// StarterNames lists the starters.
func (r *Release) StarterNames() []string {
	names := make([]string, len(r.Starters))
	for i, s := range r.Starters {
		names[i] = s.Name
	}
	return names
}

// HeightsFor returns the space to reserve for a pocket that was made from starter, which can be "".
func (r *Release) HeightsFor(starter string) []Height {
	if s, ok := r.Starter(starter); ok && len(s.Heights) > 0 {
		return s.Heights
	}
	return r.Manifest.Heights
}

// Sets reports whether a starter contains a setting.
func (r *Release) Sets(starter, key string) bool {
	s, _ := r.Starter(starter)
	_, sets := s.Settings[key]
	return sets
}

// Restart returns the settings of a pocket that changes from one starter to another. Values that
// come from the old starter, or from the widget's defaults, are replaced by those of the new one;
// references to the brand follow the new starter as far as possible. All other values were entered
// by somebody and stay, except for the keys in replace. Both names can be "".
func (r *Release) Restart(values setting.Values, from, to string, brand setting.Brand, replace []string) setting.Values {
	old, _ := r.Starter(from)
	fresh, _ := r.Starter(to)
	came, comes := r.Schema.Branded(old.Settings, brand), r.Schema.Branded(fresh.Settings, brand)
	small := func(v setting.Values) setting.Values { m, _ := v[setting.SmallKey].(map[string]any); return m }
	next := r.restart(values, old.Settings, fresh.Settings, replace)
	for key, value := range values {
		if setting.IsBrandRef(value) && reflect.DeepEqual(value, came[key]) && !slices.Contains(replace, key) {
			if is, there := comes[key]; there {
				next[key] = is
			} else {
				delete(next, key)
			}
		}
	}
	delete(next, setting.SmallKey)
	if on := r.restart(small(values), small(old.Settings), small(fresh.Settings), replace); len(on) > 0 {
		next[setting.SmallKey] = map[string]any(on)
	}
	return next
}

func (r *Release) restart(values, old, fresh setting.Values, replace []string) setting.Values {
	next := setting.Values{}
	for _, s := range r.Schema.Settings {
		value, has := values[s.Key]
		was, gave := old[s.Key]
		is, gives := fresh[s.Key]
		untouched := !has && !gave || has && gave && reflect.DeepEqual(value, was) || has && !gave && reflect.DeepEqual(value, s.Default)
		switch {
		case untouched || gives && slices.Contains(replace, s.Key):
			if gives {
				next[s.Key] = is
			}
		case has:
			next[s.Key] = value
		}
	}
	return next
}
