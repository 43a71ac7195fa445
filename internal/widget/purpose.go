package widget

import "glasspocket/internal/message"

// Purpose is what a widget is for: where the gallery shows it.
type Purpose struct {
	Name  string
	Label message.Words
	About message.Words
}

// Purposes lists them in the order of the gallery. The last is for widgets that name none.
var Purposes = []Purpose{
	{"when", message.Words{"en": "Dates and moments", "de": "Termine und Momente"}, message.Words{"en": "How long until something, how far along it is", "de": "Wie lange noch, wie weit schon"}},
	{"voices", message.Words{"en": "People and voices", "de": "Menschen und Stimmen"}, message.Words{"en": "Who you are, and what others say", "de": "Wer Sie sind und was andere sagen"}},
	{"things", message.Words{"en": "Things on show", "de": "Ausgestelltes"}, message.Words{"en": "What you make, offer or have done", "de": "Was Sie machen, anbieten oder getan haben"}},
	{"news", message.Words{"en": "News and notices", "de": "Neues und Hinweise"}, message.Words{"en": "What everybody shall know now", "de": "Was jetzt alle wissen sollen"}},
	{"ask", message.Words{"en": "Questions and answers", "de": "Fragen und Antworten"}, message.Words{"en": "What you want to hear from visitors", "de": "Was Sie von Besuchern hören wollen"}},
	{"page", message.Words{"en": "Parts of a page", "de": "Teile einer Seite"}, message.Words{"en": "What a page is put together from", "de": "Woraus eine Seite besteht"}},
	{"other", message.Words{"en": "Others", "de": "Anderes"}, message.Words{"en": "Everything else", "de": "Alles Übrige"}},
}

// PurposeNames lists their names.
func PurposeNames() []string {
	names := make([]string, len(Purposes))
	for i, p := range Purposes {
		names[i] = p.Name
	}
	return names
}
