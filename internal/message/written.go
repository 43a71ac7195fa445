package message

import (
	"fmt"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/bojanz/currency"
	"github.com/go-playground/locales"
	"github.com/go-playground/locales/ar"
	"github.com/go-playground/locales/bg"
	"github.com/go-playground/locales/ca"
	"github.com/go-playground/locales/cs"
	"github.com/go-playground/locales/cy"
	"github.com/go-playground/locales/da"
	"github.com/go-playground/locales/de"
	"github.com/go-playground/locales/el"
	"github.com/go-playground/locales/en"
	"github.com/go-playground/locales/en_GB"
	"github.com/go-playground/locales/es"
	"github.com/go-playground/locales/et"
	"github.com/go-playground/locales/eu"
	"github.com/go-playground/locales/fa"
	"github.com/go-playground/locales/fi"
	"github.com/go-playground/locales/fo"
	"github.com/go-playground/locales/fr"
	"github.com/go-playground/locales/ga"
	"github.com/go-playground/locales/he"
	"github.com/go-playground/locales/hi"
	"github.com/go-playground/locales/hr"
	"github.com/go-playground/locales/hu"
	"github.com/go-playground/locales/id"
	"github.com/go-playground/locales/is"
	"github.com/go-playground/locales/it"
	"github.com/go-playground/locales/ja"
	"github.com/go-playground/locales/ko"
	"github.com/go-playground/locales/lt"
	"github.com/go-playground/locales/lv"
	"github.com/go-playground/locales/nb"
	"github.com/go-playground/locales/nl"
	"github.com/go-playground/locales/pl"
	"github.com/go-playground/locales/pt"
	"github.com/go-playground/locales/pt_PT"
	"github.com/go-playground/locales/ro"
	"github.com/go-playground/locales/ru"
	"github.com/go-playground/locales/sk"
	"github.com/go-playground/locales/sl"
	"github.com/go-playground/locales/sr"
	"github.com/go-playground/locales/sv"
	"github.com/go-playground/locales/th"
	"github.com/go-playground/locales/tr"
	"github.com/go-playground/locales/uk"
	"github.com/go-playground/locales/vi"
	"github.com/go-playground/locales/zh"
	"golang.org/x/text/language"
	xmessage "golang.org/x/text/message"
	"golang.org/x/text/number"
)

// calendars write dates as in Unicode CLDR. "en" is British, because most English variants except
// en-US put the day before the month.
var calendars = map[string]locales.Translator{
	"ar": ar.New(), "bg": bg.New(), "ca": ca.New(), "cs": cs.New(), "cy": cy.New(), "da": da.New(), "de": de.New(), "el": el.New(),
	"en": en_GB.New(), "en-US": en.New(), "es": es.New(), "et": et.New(), "eu": eu.New(), "fa": fa.New(), "fi": fi.New(), "fo": fo.New(),
	"fr": fr.New(), "ga": ga.New(), "he": he.New(), "hi": hi.New(), "hr": hr.New(), "hu": hu.New(), "id": id.New(), "is": is.New(), "it": it.New(),
	"ja": ja.New(), "ko": ko.New(), "lt": lt.New(), "lv": lv.New(), "nb": nb.New(), "nl": nl.New(), "no": nb.New(), "pl": pl.New(), "pt": pt.New(), "pt-PT": pt_PT.New(),
	"ro": ro.New(), "ru": ru.New(), "sk": sk.New(), "sl": sl.New(), "sr": sr.New(), "sv": sv.New(), "th": th.New(), "tr": tr.New(),
	"uk": uk.New(), "vi": vi.New(), "zh": zh.New(),
}

// DateStyles are the styles of dates, by length, and of single parts of dates.
var DateStyles = []string{"full", "long", "medium", "short", "weekday", "day", "month"}

// Date writes a date in a language. For languages without a calendar here it uses ISO 8601, which
// everybody can read.
func Date(lang string, at time.Time, style string) (string, error) {
	c := calendar(lang)
	if c == nil {
		formats := map[string]string{"day": "2", "month": "01", "weekday": ""}
		if format, part := formats[style]; part {
			return at.Format(format), nil
		}
		return at.Format(time.DateOnly), nil
	}
	switch style {
	case "weekday":
		return c.WeekdayAbbreviated(at.Weekday()), nil
	case "day":
		return strconv.Itoa(at.Day()), nil
	case "month":
		return c.MonthAbbreviated(at.Month()), nil
	case "full":
		return c.FmtDateFull(at), nil
	case "long":
		return c.FmtDateLong(at), nil
	case "medium":
		return c.FmtDateMedium(at), nil
	case "short":
		return c.FmtDateShort(at), nil
	}
	return "", fmt.Errorf("there is no date style %q. Use %s", style, strings.Join(DateStyles, ", "))
}

// Time writes a time of day in a language, to the minute.
func Time(lang string, at time.Time) string {
	if c := calendar(lang); c != nil {
		return c.FmtTimeShort(at)
	}
	return at.Format("15:04")
}

func calendar(lang string) locales.Translator {
	if c := calendars[lang]; c != nil {
		return c
	}
	return calendars[Base(lang)]
}

// Number writes a number in a language with western digits, like the browser's Intl.NumberFormat
// for "LANGUAGE-u-nu-latn".
func Number(lang string, value float64, places int) string {
	p, ok := printers.Load(lang)
	if !ok {
		tag, err := language.Parse(lang + "-u-nu-latn")
		if err != nil {
			tag = language.English
		}
		if p = xmessage.NewPrinter(tag); ValidTag(lang) {
			printers.Store(lang, p)
		}
	}
	return p.(*xmessage.Printer).Sprint(number.Decimal(value, number.Scale(places)))
}

// printers has a printer for each language. Printers have no state.
var printers sync.Map

// Money writes an amount in minor units with its currency (an ISO 4217 code) in a language, with
// western digits. Whole amounts have no decimals.
func Money(lang string, minor int64, code string) (string, error) {
	amount, err := currency.NewAmountFromInt64(minor, code)
	if err != nil {
		return "", err
	}
	f := currency.NewFormatter(currency.NewLocale(lang))
	if isWhole(minor, code) {
		f.MinDigits = 0
	}
	return western.Replace(f.Format(amount)), nil
}

func isWhole(minor int64, code string) bool {
	digits, ok := currency.GetDigits(code)
	for range digits {
		if minor%10 != 0 {
			return false
		}
		minor /= 10
	}
	return ok
}

var western = func() *strings.Replacer {
	var pairs []string
	for i := range 10 {
		for _, zero := range []rune{'٠', '۰', '०'} {
			pairs = append(pairs, string(zero+rune(i)), string(rune('0'+i)))
		}
	}
	return strings.NewReplacer(append(pairs, "٫", ".", "٬", ",")...)
}()
