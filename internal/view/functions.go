package view

import (
	"fmt"
	"html/template"
	"math"
	"sort"
	"strconv"
	"strings"
	"time"

	"golang.org/x/text/language"
	xmessage "golang.org/x/text/message"
	"golang.org/x/text/number"
)

// builtins are the functions of html/template that a view may call. The others make
// text of any size (print, printf, println, slice), or trusted text (html, js, urlquery),
// or call what is in the data (call).
var builtins = []string{"and", "or", "not", "eq", "ne", "lt", "le", "gt", "ge", "len", "index"}

// Function is one of our own functions of the view language.
type Function struct {
	Name, Arguments, Gives string // for the reference page
}

// Functions lists our own functions.
var Functions = []Function{
	{"say", "KEY [COUNT]", "the message KEY in the pocket's language, in the plural form for COUNT"},
	{"timeLeft", "MOMENT UNITS", "a list of {unit, value, digits} that add up to the time left until MOMENT; UNITS joins days, hours, minutes, seconds with hyphens"},
	{"fromNow", "DAYS HOURS MINUTES", "the moment that long after now"},
	{"numberAt", "FROM TO BEGINS ENDS DECIMALS", "the number that runs from FROM to TO between two moments, as it stands now, written in the pocket's language"},
	{"hasPassed", "MOMENT", "whether MOMENT is in the past"},
}

// FunctionNames lists everything that a view may call.
func FunctionNames() []string {
	names := append([]string{}, builtins...)
	for _, f := range Functions {
		names = append(names, f.Name)
	}
	sort.Strings(names)
	return names
}

// functions are our own functions, bound to one rendering's data.
func (d Data) functions() template.FuncMap {
	return template.FuncMap{"say": d.say, "timeLeft": d.timeLeft, "hasPassed": d.hasPassed, "fromNow": d.fromNow, "numberAt": d.numberAt}
}

func (d Data) say(key string, count ...any) (string, error) {
	n := 0
	if len(count) > 0 {
		switch c := count[0].(type) {
		case int:
			n = c
		case float64:
			n = int(c)
		default:
			return "", fmt.Errorf("say takes a whole number as its count, not %T", c)
		}
	}
	if _, ok := d.Messages[key]; !ok {
		return "", fmt.Errorf("there is no message %q in %s", key, d.Language)
	}
	return d.Messages.Say(d.Language, key, n), nil
}

var unitSeconds = map[string]int64{"days": 86400, "hours": 3600, "minutes": 60, "seconds": 1}

// timeLeft splits the time from now to a moment. A day is 24 hours: what is left is a
// length of time, so a change of the clocks in between does not change it.
func (d Data) timeLeft(moment map[string]any, units string) ([]any, error) {
	at, ok := moment["at"].(float64)
	if !ok {
		return nil, fmt.Errorf("timeLeft takes a moment")
	}
	// Rounded up, so that "0" appears when the moment has come and not a second before.
	milliseconds := int64(at) - d.Now.UnixMilli()
	left := max(0, (milliseconds+999)/1000)
	var parts []any
	for i, unit := range strings.Split(units, "-") {
		size, ok := unitSeconds[unit]
		if !ok {
			return nil, fmt.Errorf("there is no unit %q; use days, hours, minutes, seconds", unit)
		}
		value := left / size
		left %= size
		digits := strconv.FormatInt(value, 10)
		if i > 0 && len(digits) < 2 {
			digits = "0" + digits
		}
		parts = append(parts, map[string]any{"unit": unit, "value": int(value), "digits": digits})
	}
	return parts, nil
}

func (d Data) hasPassed(moment map[string]any) (bool, error) {
	at, ok := moment["at"].(float64)
	if !ok {
		return false, fmt.Errorf("hasPassed takes a moment")
	}
	return !d.Now.Before(time.UnixMilli(int64(at))), nil
}

func (d Data) fromNow(days, hours, minutes float64) map[string]any {
	at := d.Now.Add(time.Duration(((days*24+hours)*60 + minutes) * float64(time.Minute)))
	utc := at.UTC().Format(time.RFC3339)
	return map[string]any{"at": float64(at.UnixMilli()), "utc": utc, "local": strings.TrimSuffix(utc, "Z"), "zone": "UTC"}
}

// numberAt never shows the end before its moment has come: it cuts off what it does not
// show, towards where it comes from.
func (d Data) numberAt(from, to float64, begins, ends map[string]any, decimals float64) (string, error) {
	b, ok1 := begins["at"].(float64)
	e, ok2 := ends["at"].(float64)
	if !ok1 || !ok2 {
		return "", fmt.Errorf("numberAt takes two moments")
	}
	part := 1.0
	if now := float64(d.Now.UnixMilli()); now < e && e > b {
		part = max(0, (now-b)/(e-b))
	}
	places := int(min(max(decimals, 0), 6))
	unit := math.Pow(10, -float64(places))
	// A hair more, so that what comes out at 0.29999… in binary counts as 0.3.
	steps := math.Floor(math.Abs(to-from)*part/unit + 1e-6)
	value := to
	if part < 1 {
		value = from + math.Copysign(steps*unit, to-from)
	}
	return Number(d.Language, value, places), nil
}

// Number writes a number as people of a language do, with western digits, as the
// browser's Intl.NumberFormat does for "LANGUAGE-u-nu-latn".
func Number(lang string, value float64, places int) string {
	tag, err := language.Parse(lang + "-u-nu-latn")
	if err != nil {
		tag = language.English
	}
	return xmessage.NewPrinter(tag).Sprint(number.Decimal(value, number.Scale(places)))
}
