package widget

import (
	"encoding/json"
	"fmt"
)

// Blank returns a widget to start with: small, valid, and with one setting for content and one for
// the look, as examples.
func Blank(name, title, language string) Files {
	quoted, _ := json.Marshal(title)
	return Files{
		ManifestFile: fmt.Appendf(nil, `{
  "format": 1,
  "name": %q,
  "title": { %q: %s },
  "languages": [%[2]q],
  "capabilities": [],
  "heights": [{ "from": 0, "height": 96 }]
}
`, name, language, quoted),
		SchemaFile: fmt.Appendf(nil, `{
  "$schema": "https://json-schema.org/draft/2020-12/schema",
  "type": "object",
  "properties": {
    "heading": {
      "type": "string",
      "maxLength": 120,
      "default": %[2]s,
      "glass": { "type": "text", "label": { %[1]q: "Heading" } }
    },
    "accent": {
      "type": "string",
      "default": "#0b6b63",
      "glass": { "type": "colour", "look": true, "label": { %[1]q: "Accent" } }
    }
  }
}
`, language, quoted),
		ViewFile: fmt.Appendf(nil, `<section class="%s">
  <h2 class="heading">{{.settings.heading}}</h2>
</section>
`, name),
		StyleFile: fmt.Appendf(nil, `.%s {
  padding: 16px 20px;
  border-inline-start: 4px solid var(--accent);
  font-family: system-ui, sans-serif;
}
.%[1]s .heading {
  margin: 0;
  font-size: 22px;
  line-height: 1.3;
}
`, name),
		messagesDir + "/" + language + ".json": []byte("{}\n"),
	}
}
