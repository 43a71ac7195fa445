package widget

import "glasspocket/internal/message"

// Purpose is what a widget is for. The gallery groups widgets by it.
type Purpose struct {
	Name  string
	Label message.Words
	About message.Words
}

// Purposes lists them in the gallery's order. The last is for widgets that name none.
var Purposes = []Purpose{
	{"sources", message.Words{"en": "Reviews, posts and dates", "de": "Bewertungen, Beiträge, Termine"}, message.Words{"en": "Show your own content from elsewhere, always up to date", "de": "Eigene Inhalte von anderswo zeigen, immer aktuell"}},
	{"when", message.Words{"en": "Countdowns and progress", "de": "Countdowns und Fortschritt"}, message.Words{"en": "Show the time left or the progress so far", "de": "Zeigen, wie lange es dauert oder wie weit es ist"}},
	{"voices", message.Words{"en": "People", "de": "Menschen"}, message.Words{"en": "Introduce people", "de": "Menschen vorstellen"}},
	{"things", message.Words{"en": "Products and projects", "de": "Ausgestelltes"}, message.Words{"en": "Show what you make, offer or have done", "de": "Zeigen, was Sie machen, anbieten oder erreicht haben"}},
	{"news", message.Words{"en": "News and notices", "de": "Neuigkeiten und Hinweise"}, message.Words{"en": "Tell every visitor something important", "de": "Allen Besuchern etwas Wichtiges mitteilen"}},
	{"ask", message.Words{"en": "Forms and questions", "de": "Formulare und Fragen"}, message.Words{"en": "Ask visitors something", "de": "Besucher etwas fragen"}},
	{"page", message.Words{"en": "Page sections", "de": "Seitenabschnitte"}, message.Words{"en": "Build the sections of a page", "de": "Abschnitte einer Seite aufbauen"}},
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
