package view

import (
	"fmt"
	"html/template"
	"sort"

	"glasspocket/internal/shape"
)

// builtins are the functions of html/template that a view can call. The others make text of any
// size (print, printf, println, slice) or trusted text (html, js, urlquery), or call functions in
// the data (call).
var builtins = []string{"and", "or", "not", "eq", "ne", "lt", "le", "gt", "ge", "len", "index"}

// Function is one of our own functions of the view language.
type Function struct {
	Name, Arguments, Gives string // for the reference page
	takes                  []*shape.Type
	optional               int // how many arguments at the end are optional
	gives                  *shape.Type
	of                     func(*Data) any // the function, bound to the data of one rendering
}

// Earlier reports whether only stored releases call the function. Such functions are not listed
// anywhere.
func (f *Function) Earlier() bool { return f.Arguments == "" }

// wants describes how many arguments a function takes.
func (f *Function) wants() string {
	most, least := len(f.takes), len(f.takes)-f.optional
	switch {
	case most == 1 && least == 1:
		return "one argument"
	case least == most:
		return fmt.Sprintf("%d arguments", most)
	case least+1 == most:
		return fmt.Sprintf("%d or %d arguments", least, most)
	}
	return fmt.Sprintf("%d to %d arguments", least, most)
}

// Functions lists our own functions, by subject.
var Functions = []Function{
	{"say", "KEY [COUNT [OF]]", "the message KEY in the pocket's language, in the plural form for COUNT; {count} and {of} are replaced",
		[]*shape.Type{shape.Text, shape.Any, shape.Any}, 2, shape.Text, func(d *Data) any { return d.say }},
	{"has", "LIST TEXT", "whether TEXT is in LIST, as of several choices",
		[]*shape.Type{shape.ListOf(shape.Any), shape.Text}, 0, shape.Switch, func(*Data) any { return has }},
	{"plus", "COUNT COUNT", "the sum of two counts",
		[]*shape.Type{shape.Whole, shape.Whole}, 0, shape.Whole, func(*Data) any { return plus }},
	{"atMost", "LIST NUMBER", "the start of LIST, with at most NUMBER items",
		[]*shape.Type{shape.ListOf(shape.Any), shape.Number}, 0, nil, func(*Data) any { return atMost }},
	{"number", "NUMBER DECIMALS", "NUMBER in the format of the pocket's language",
		[]*shape.Type{shape.Number, shape.Number}, 0, shape.Text, func(d *Data) any { return d.number }},
	{"px", "NUMBER", "NUMBER as a length in CSS pixels, such as 290px",
		[]*shape.Type{shape.Number}, 0, shape.Text, func(*Data) any { return px }},
	{"money", "MONEY", "an amount with its currency, in the format of the pocket's language",
		[]*shape.Type{shape.Money}, 0, shape.Text, func(d *Data) any { return d.money }},
	{"date", "DATE STYLE", "a date in the format of the pocket's language; STYLE is full, long, medium or short, or only a part: weekday, day or month",
		[]*shape.Type{shape.Day, shape.Text}, 0, shape.Text, func(d *Data) any { return d.date }},
	{"dateOf", "MOMENT STYLE", "the date of a date and time in its own time zone, in the format of date",
		[]*shape.Type{shape.Moment, shape.Text}, 0, shape.Text, func(d *Data) any { return d.dateOf }},
	{"zoneOf", "MOMENT", "the name of a date and time's zone at that time, such as CET or UTC+3",
		[]*shape.Type{shape.Moment}, 0, shape.Text, func(d *Data) any { return d.zoneOf }},
	{"endOf", "ITEM", "the moment when the date of an item is over: at its end, two hours after its start, or at the end of its last day. The service then renders a list of dates again",
		[]*shape.Type{shape.Any}, 0, shape.Moment, func(*Data) any { return endOf }},
	{"calendarOf", "ID", "the address of the date of an item as an iCalendar file, or of all dates if ID is empty; empty in a preview",
		[]*shape.Type{shape.Text}, 0, shape.Address, func(d *Data) any { return d.calendarOf }},
	{"timeOf", "MOMENT", "the time of day of a date and time in its own time zone, in the pocket's language",
		[]*shape.Type{shape.Moment}, 0, shape.Text, func(d *Data) any { return d.timeOf }},
	{"timeLeft", "MOMENT UNITS", "the time left until MOMENT as a list of {unit, value, digits}; UNITS names the units with hyphens between them: days-hours-minutes-seconds",
		[]*shape.Type{shape.Moment, shape.Text}, 0, shape.ListOf(unit), func(d *Data) any { return d.timeLeft }},
	{"fromNow", "DAYS HOURS MINUTES", "the date and time after that duration from now",
		[]*shape.Type{shape.Number, shape.Number, shape.Number}, 0, shape.Moment, func(d *Data) any { return d.fromNow }},
	{"numberAt", "FROM TO START END DECIMALS", "the present value of a number that runs from FROM to TO between two times, in the format of the pocket's language",
		[]*shape.Type{shape.Number, shape.Number, shape.Moment, shape.Moment, shape.Number}, 0, shape.Text, func(d *Data) any { return d.numberAt }},
	{"hasPassed", "MOMENT", "whether MOMENT is in the past",
		[]*shape.Type{shape.Moment}, 0, shape.Switch, func(d *Data) any { return d.hasPassed }},
	{"ratings", "ITEMS", "a summary of the items' ratings: {count, best, average, part, steps}; steps go down from the best, each {value, count, part}",
		[]*shape.Type{shape.ListOf(shape.Any)}, 0, summary, func(*Data) any { return ratings }},
	{"ratingsOf", "KEY", "the same for the list setting KEY, which can have sources: all reviews of the sources or only those shown, as the customer chooses; all says which. Without steps, the distribution is unknown",
		[]*shape.Type{shape.Text}, 0, total, func(d *Data) any { return d.ratingsOf }},
	{"pageOf", "KEY", "the part of the list setting KEY that is shown, if the list has pages: {from, to, total, left, more, next, previous}. from counts the items before it, left those after it, more those in the next page. next and previous are addresses, empty if there is none, as in a preview",
		[]*shape.Type{shape.Text}, 0, page, func(d *Data) any { return d.pageOf }},
	{"ago", "MOMENT STYLE", "a <time> with the date of a moment in the format of date. If the widget has the capability `ago`, it shows a relative time such as “2 hours ago” while the moment is less than a week ago",
		[]*shape.Type{shape.Moment, shape.Text}, 0, shape.HTML, func(d *Data) any { return d.ago }},
	{"linked", "TEXT", "TEXT, with its web addresses as links",
		[]*shape.Type{shape.Text}, 0, shape.HTML, func(*Data) any { return linked }},
	{"initials", "NAME", "the first letters of a name's first and last word",
		[]*shape.Type{shape.Text}, 0, shape.Text, func(*Data) any { return initials }},
	{"heading", "LEVEL", "attributes that make an element a heading with the level of a heading setting",
		[]*shape.Type{shape.Text}, 0, attributes, func(*Data) any { return headingAttributes }},
	{"linkTo", "LINK", "the attributes of an <a> for a link setting: href, target and rel",
		[]*shape.Type{shape.LinkTo}, 0, attributes, func(*Data) any { return linkAttributes }},
	{"image", "IMAGE SIZES [CLASS]", "an <img> for an image setting with all its sizes; SIZES is the sizes attribute. All but the first image of a rendering load lazily",
		[]*shape.Type{shape.Image, shape.Text, shape.Text}, 1, shape.HTML, func(d *Data) any { return d.image }},
	{"icon", "NAME", "the drawing of an icon setting",
		[]*shape.Type{shape.Text}, 0, shape.HTML, func(*Data) any { return iconMarkup }},
	{"vary", "NAME VALUE", "a class that sets the custom property --NAME to VALUE: a number, a length or a colour",
		[]*shape.Type{shape.Text, shape.Any}, 0, shape.Text, func(d *Data) any { return d.vary }},
	{"withFacts", "TEXT", "TEXT, with {NAME} replaced by the fact NAME if the page states it",
		[]*shape.Type{shape.Text}, 0, shape.HTML, func(*Data) any { return withFacts }},
	{"picture", "", "",
		[]*shape.Type{shape.Image, shape.Text, shape.Text}, 1, shape.HTML, func(d *Data) any { return d.image }},
	{"first", "", "",
		[]*shape.Type{shape.Number, shape.ListOf(shape.Any)}, 0, nil, func(*Data) any { return firstOf }},
}

var attributes = &shape.Type{Kind: shape.AttributesKind}

func function(name string) *Function {
	for i := range Functions {
		if Functions[i].Name == name {
			return &Functions[i]
		}
	}
	return nil
}

// FunctionNames lists every function that a view can call.
func FunctionNames() []string {
	names := append([]string{}, builtins...)
	for _, f := range Functions {
		if !f.Earlier() {
			names = append(names, f.Name)
		}
	}
	sort.Strings(names)
	return names
}

// functions returns our own functions, bound to the data of one rendering.
func (d *Data) functions() template.FuncMap {
	bound := template.FuncMap{asDecimal: decimal}
	for _, f := range Functions {
		bound[f.Name] = f.of(d)
	}
	return bound
}

func has(list []any, text string) bool {
	for _, e := range list {
		if e == text {
			return true
		}
	}
	return false
}

func plus(a, b int) int { return a + b }

// firstOf is atMost with its arguments in the order of earlier releases.
func firstOf(n float64, list []any) []any { return atMost(list, n) }

func atMost(list []any, n float64) []any { return list[:max(0, min(len(list), int(n)))] }

func (d *Data) say(key string, count ...any) (string, error) {
	n := 0
	if len(count) > 0 {
		switch c := count[0].(type) {
		case int:
			n = c
		case float64:
			n = int(c)
		default:
			return "", fmt.Errorf("say needs a whole number as its count, not %T", c)
		}
	}
	if _, ok := d.Messages[key]; !ok {
		return "", fmt.Errorf("there is no message %q in %s", key, d.Language)
	}
	of := ""
	if len(count) > 1 {
		of = fmt.Sprint(count[1])
	}
	return d.Messages.Say(d.Language, key, n, of), nil
}
