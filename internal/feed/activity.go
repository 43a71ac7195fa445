package feed

import (
	"context"
	"encoding/json"
	"net/url"
	"slices"
	"strings"

	"glasspocket/internal/item"
)

// ActivityType is the media type of ActivityStreams 2.0 documents, for requests.
const ActivityType = `application/activity+json, application/ld+json; profile="https://www.w3.org/ns/activitystreams"`

const activityNamespace = "https://www.w3.org/ns/activitystreams"

// The parts of a profile.
const (
	PartPosts = "posts" // what it publishes
	PartLikes = "likes" // what it has liked
)

// Limits of a collection.
const (
	activitiesMost = 200
	lookupsMost    = 60 // objects that a collection names only by their address
)

func isActivity(d *Document) bool {
	head := d.head()
	return strings.HasPrefix(head, "{") && (strings.Contains(head, activityNamespace) || d.media() == "application/activity+json")
}

// object is an object of ActivityStreams: values can be an address, an object, or a list of these.
type object map[string]any

func (o object) text(name string) string {
	switch v := o[name].(type) {
	case string:
		return v
	case []any:
		for _, each := range v {
			if text, ok := each.(string); ok {
				return text
			}
		}
	}
	return ""
}

// inLanguage returns a natural language value: of name, or of nameMap.
func (o object) inLanguage(name string) (text, language string) {
	text = o.text(name)
	words, _ := o[name+"Map"].(map[string]any)
	for tag, v := range words {
		if value, ok := v.(string); ok && (text == "" || value == text) {
			return value, tag
		}
	}
	return text, ""
}

func (o object) list(name string) []any {
	switch v := o[name].(type) {
	case nil:
		return nil
	case []any:
		return v
	default:
		return []any{v}
	}
}

func (o object) of(name string) object {
	for _, v := range o.list(name) {
		if m, ok := v.(map[string]any); ok {
			return m
		}
	}
	return nil
}

func (o object) is(types ...string) bool {
	for _, v := range o.list("type") {
		if t, ok := v.(string); ok && slices.Contains(types, t) {
			return true
		}
	}
	return false
}

// link returns the address of a property: a string, a Link, or an object's url or id.
func (o object) link(name string) string {
	for _, v := range o.list(name) {
		switch v := v.(type) {
		case string:
			return v
		case map[string]any:
			inner := object(v)
			if href := inner.text("href"); href != "" {
				return href
			}
			if at := inner.link("url"); at != "" {
				return at
			}
			return inner.text("id")
		}
	}
	return ""
}

// page prefers the address for people among several.
func (o object) page() string {
	for _, v := range o.list("url") {
		if m, ok := v.(map[string]any); ok && strings.HasPrefix(object(m).text("mediaType"), "text/html") {
			return object(m).text("href")
		}
	}
	return o.link("url")
}

// activityReader reads one profile or collection.
type activityReader struct {
	*Document
	*Found
	o       Options
	ctx     context.Context
	people  map[string]item.Person
	lookups int
}

// readActivity reads a profile's outbox or what it has liked, or a collection (ActivityStreams 2.0,
// ActivityPub). Only public objects are read.
func readActivity(ctx context.Context, d *Document, o Options) (*Found, error) {
	root, err := readObject(d)
	if err != nil {
		return nil, err
	}
	f := &Found{Window: true, Title: root.text("name"), Link: root.page()}
	r := &activityReader{Document: d, Found: f, o: o, ctx: ctx, people: map[string]item.Person{}}
	if root.is("Person", "Organization", "Group", "Service", "Application") {
		if f.Title == "" {
			f.Title = root.text("preferredUsername")
		}
		f.Icon = d.absolute(root.of("icon").link("url"))
		r.people[root.text("id")] = r.author(root)
		name := "outbox"
		if o.Part == PartLikes {
			name = "liked"
		}
		at := d.absolute(root.link(name))
		if at == "" || d.Get == nil {
			return nil, &Error{What: "The profile has no public list of " + map[string]string{"outbox": "posts", "liked": "posts that it has liked"}[name] + ".", Hint: "Connect another profile, or ask its owner to make the list public."}
		}
		list, err := d.Get(ctx, at, ActivityType)
		if err != nil {
			return nil, err
		}
		if root, err = readObject(list); err != nil {
			return nil, err
		}
	}
	if !root.is("Collection", "OrderedCollection", "CollectionPage", "OrderedCollectionPage") {
		if it, ok := r.item(root, 0); ok { // a single post
			f.Items = []item.Item{it}
			return f, nil
		}
		return nil, &Error{What: "The response is neither a profile nor a collection.", Hint: "Enter @name@host, or the address of a topic or list."}
	}
	return f, r.collection(root)
}

func readObject(d *Document) (object, error) {
	var o object
	if err := json.Unmarshal([]byte(d.Text()), &o); err != nil {
		return nil, brokenJSON(d, err)
	}
	return o, nil
}

// collection reads a collection, page by page.
func (r *activityReader) collection(list object) error {
	seen := map[string]bool{}
	for page := list; page != nil && len(r.Items) < activitiesMost; {
		for _, v := range append(page.list("orderedItems"), page.list("items")...) {
			if it, ok := r.any(v, 0); ok && len(r.Items) < activitiesMost {
				r.Items = append(r.Items, it)
			}
		}
		var next any
		if v, ok := page["first"]; ok && page["orderedItems"] == nil && page["items"] == nil {
			next = v
		} else {
			next = page["next"]
		}
		switch v := next.(type) {
		case map[string]any:
			page = v
			if id := page.text("id"); id != "" && page["orderedItems"] == nil && page["items"] == nil {
				next = id
			} else {
				continue
			}
		}
		at, _ := next.(string)
		if at = r.absolute(at); at == "" || seen[at] || len(seen) >= pagesMost || r.Get == nil {
			return nil
		}
		seen[at] = true
		d, err := r.Get(r.ctx, at, ActivityType)
		if err != nil {
			if len(r.Items) == 0 {
				return err
			}
			r.skip("A page of the list cannot be read: %v", err)
			return nil
		}
		if page, err = readObject(d); err != nil {
			if len(r.Items) == 0 {
				return err
			}
			return nil
		}
	}
	return nil
}

// any reads an activity or an object, or its address.
func (r *activityReader) any(v any, depth int) (it item.Item, ok bool) {
	switch v := v.(type) {
	case map[string]any:
		return r.item(v, depth)
	case string:
		if o := r.look(v); o != nil {
			return r.item(o, depth)
		}
	}
	return it, false
}

// look fetches an object by its address.
func (r *activityReader) look(address string) object {
	at := r.absolute(address)
	if at == "" || r.Get == nil || r.lookups >= lookupsMost {
		return nil
	}
	r.lookups++
	d, err := r.Get(r.ctx, at, ActivityType)
	if err != nil {
		r.skip("A post cannot be read: %v", err)
		return nil
	}
	o, err := readObject(d)
	if err != nil {
		return nil
	}
	return o
}

func (r *activityReader) item(o object, depth int) (it item.Item, ok bool) {
	if depth > 3 {
		return it, false
	}
	switch {
	case o.is("Create", "Update", "Like", "Add"):
		for _, v := range o.list("object") {
			return r.any(v, depth+1)
		}
		return it, false
	case o.is("Announce"):
		if !r.o.Boosts {
			return it, false
		}
		for _, v := range o.list("object") {
			it, ok = r.any(v, depth+1)
			if at, err := item.ParseTime(o.text("published"), r.Zone); ok && err == nil {
				it.At = at
			}
		}
		return it, ok
	case !o.is("Note", "Article", "Page", "Image", "Video", "Audio", "Question", "Event", "Document"):
		return it, false
	}
	if !public(o) {
		return it, false
	}
	it = item.Item{Kind: item.Post, Origin: o.text("id"), Link: o.page()}
	if it.Link == "" {
		it.Link = it.Origin
	}
	if it.InReplyTo = o.link("inReplyTo"); it.InReplyTo != "" && !r.o.Replies && r.o.Part != PartLikes {
		return it, false
	}
	var language string
	it.Title, _ = o.inLanguage("name")
	content, language := o.inLanguage("content")
	setHTML(&it, content, r.Address)
	it.Language = language
	for _, name := range []string{"published", "updated"} {
		if at, err := item.ParseTime(o.text(name), r.Zone); err == nil {
			it.At = at
			break
		}
	}
	it.Author = r.person(o)
	for _, v := range o.list("tag") {
		if m, isTag := v.(map[string]any); isTag && (object(m).is("Hashtag") || object(m)["type"] == nil) {
			it.Tags = append(it.Tags, strings.TrimPrefix(object(m).text("name"), "#"))
		}
	}
	r.attached(&it, o)
	if o.is("Event") {
		it.Kind = item.Date
		if at, err := item.ParseTime(o.text("startTime"), r.Zone); err == nil {
			it.Start = at
		}
		if at, err := item.ParseTime(o.text("endTime"), r.Zone); err == nil {
			it.End = at
		}
		it.Location.Name = o.of("location").text("name")
	}
	// The warning is shown in place of what it warns of.
	if warning, _ := o.inLanguage("summary"); o["sensitive"] == true {
		if warning != "" {
			it.Text, it.Content = item.Plain(warning), ""
		}
		it.Media = nil
	}
	return it, !empty(&it)
}

// public reports whether an object is for everybody.
func public(o object) bool {
	to := append(o.list("to"), o.list("cc")...)
	if len(to) == 0 {
		return true // a collection for everybody need not repeat it
	}
	return slices.ContainsFunc(to, func(v any) bool {
		return v == activityNamespace+"#Public" || v == "as:Public" || v == "Public"
	})
}

func (r *activityReader) attached(it *item.Item, o object) {
	add := func(m object) {
		at := m.link("url")
		if at == "" {
			at = m.link("href")
		}
		kind := kindOfMedia(m.text("mediaType"), strings.ToLower(m.text("type")), at)
		if kind == "" {
			return
		}
		alt, _ := m.inLanguage("name")
		if alt == "" {
			alt, _ = m.inLanguage("summary")
		}
		width, _ := m["width"].(float64)
		height, _ := m["height"].(float64)
		poster := m.of("icon").link("url")
		if poster == "" {
			poster = m.of("preview").link("url")
		}
		it.Media = append(it.Media, item.Media{Kind: kind, Address: at, Alt: item.Plain(alt), Width: int(width), Height: int(height), Poster: poster})
	}
	for _, v := range append(o.list("attachment"), o.list("image")...) {
		if m, ok := v.(map[string]any); ok {
			add(m)
		}
	}
	if o.is("Image", "Video", "Audio") {
		it.Media = nil
		add(o)
	}
}

// person returns the author of an object.
func (r *activityReader) person(o object) item.Person {
	if p := o.of("attributedTo"); p != nil {
		return r.author(p)
	}
	id := o.link("attributedTo")
	if id == "" {
		id = o.link("actor")
	}
	if p, known := r.people[id]; known || id == "" {
		return p
	}
	p := item.Person{Link: id}
	if who := r.look(id); who != nil {
		p = r.author(who)
	} else if u, err := url.Parse(id); err == nil {
		p.Name = strings.TrimPrefix(u.Path[strings.LastIndexByte(u.Path, '/')+1:], "@")
	}
	r.people[id] = p
	return p
}

func (r *activityReader) author(o object) item.Person {
	name, _ := o.inLanguage("name")
	handle := o.text("preferredUsername")
	if u, err := url.Parse(o.text("id")); err == nil && handle != "" {
		handle = "@" + handle + "@" + u.Host
	}
	if name == "" {
		name, handle = handle, ""
	}
	link := o.page()
	if link == "" {
		link = o.text("id")
	}
	return item.Person{Name: name, About: handle, Link: link, Image: r.absolute(o.of("icon").link("url"))}
}

// Handle is a name at a host, "@kiln@skerry.example".
type Handle struct{ Name, Host string }

// ReadHandle reads a handle. ok is false if text is not one.
func ReadHandle(text string) (h Handle, ok bool) {
	text = strings.TrimPrefix(strings.TrimSpace(text), "acct:")
	name, host, ok := strings.Cut(strings.TrimPrefix(text, "@"), "@")
	if !ok || name == "" || host == "" || strings.ContainsAny(name+host, "/ ?#@") {
		return h, false
	}
	return Handle{name, strings.ToLower(host)}, true
}

// Query returns the path and query of the WebFinger request (RFC 7033) for a handle.
func (h Handle) Query() string {
	return "/.well-known/webfinger?resource=" + url.QueryEscape("acct:"+h.Name+"@"+h.Host)
}

// Profile returns the address of the profile in a WebFinger response, or "".
func Profile(d *Document) string {
	var response struct {
		Links []struct{ Rel, Type, Href string }
	}
	if json.Unmarshal([]byte(d.Text()), &response) != nil {
		return ""
	}
	for _, link := range response.Links {
		if link.Rel == "self" && (strings.HasPrefix(link.Type, "application/activity+json") || strings.HasPrefix(link.Type, "application/ld+json")) {
			return d.absolute(link.Href)
		}
	}
	return ""
}
