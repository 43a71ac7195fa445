package host

import (
	"encoding/json"
	"strings"
)

// component writes the source of a component: a mount point, and code that adds the loader to the
// page once. The loader observes the page, so components can appear and disappear at any time.
func component(s Subject, a Ask) []Part {
	framework := a.Placing.Framework
	if framework == "" {
		framework = Frameworks[0]
		if len(a.Content.Components) > 0 {
			framework = a.Content.Components[0]
		}
	}
	quote := func(text string) string { b, _ := json.Marshal(text); return string(b) }
	c := componentSources[framework]
	style := ""
	if !s.Floats && !s.Chooses && !s.Wraps {
		style = s.reserved(a.Placing)
	}
	around, end := "", ""
	if box := a.Placing.box(); box != "" && !s.Floats {
		around, end = "  <div "+c.style(box)+">\n", "\n  </div>"
	}
	reserve := ""
	if style != "" {
		reserve = " " + c.style("min-height:"+style)
	}
	inside := ""
	switch f := s.fallback(a.Placing); {
	case s.Wraps:
		inside = c.slot
	case s.Floats, s.Chooses, a.Placing.Fallback == "nothing":
	case f.name == "":
		inside = c.text(f.text)
	default:
		inside = `<a href="` + s.page() + `">` + c.text(f.children[0].text) + "</a>"
	}
	text := strings.NewReplacer("    FETCH", "    "+strings.Join(fetch, "\n    "), "  FETCH", "  "+strings.Join(fetch, "\n  "), "LOADER", quote(s.loader(a.Placing)), "KEY", s.Key, "RESERVE", reserve, "INSIDE", inside, "AROUND", around, "END", end).Replace(c.source)
	return []Part{{Role: "file", Where: "in a new file. Then use it where the widget goes: <Pocket />", Text: text, File: c.file}}
}

// fetch adds the loader to the page unless it is there.
var fetch = []string{
	"if (document.querySelector(`script[src=\"${loader}\"]`)) return;",
	`const tag = document.createElement("script");`,
	"tag.async = true;",
	"tag.src = loader;",
	"document.head.append(tag);",
}

type componentSource struct {
	file, source, slot string // in source, FETCH is replaced by fetch with the same indent
	style              func(css string) string
	text               func(words string) string
}

var componentSources = map[string]componentSource{
	"react": {"Pocket.jsx", `import { useEffect } from "react";

const loader = LOADER;

export default function Pocket({ children }) {
  useEffect(() => {
    FETCH
  }, []);
  return (
AROUND    <div data-glass-pocket="KEY"RESERVE>INSIDE</div>END
  );
}
`, "{children}", func(css string) string { return "style={" + styleObject(css) + "}" }, jsText},
	"vue": {"Pocket.vue", `<script setup>
import { onMounted } from "vue";

const loader = LOADER;
onMounted(() => {
  FETCH
});
</script>

<template>
AROUND    <div data-glass-pocket="KEY"RESERVE>INSIDE</div>END
</template>
`, "<slot />", func(css string) string { return `style="` + css + `"` }, jsText},
	"svelte": {"Pocket.svelte", `<script>
  import { onMount } from "svelte";

  const loader = LOADER;
  let { children } = $props();
  onMount(() => {
    FETCH
  });
</script>

AROUND    <div data-glass-pocket="KEY"RESERVE>INSIDE</div>END
`, "{@render children?.()}", func(css string) string { return `style="` + css + `"` }, jsText},
}

// jsText writes words as text in a component. Characters that would start markup or an expression
// become references, which JSX (HTMLCharacterReference in its grammar), Vue and Svelte decode.
func jsText(words string) string {
	w := writer{braces: "{}"}
	w.escaped(words)
	return w.b.String()
}

// styleObject converts CSS to the object for a React element's style.
func styleObject(css string) string {
	var pairs []string
	for declaration := range strings.SplitSeq(css, ";") {
		name, value, _ := strings.Cut(declaration, ":")
		words := strings.Split(name, "-")
		for i := 1; i < len(words); i++ {
			words[i] = strings.ToUpper(words[i][:1]) + words[i][1:]
		}
		quoted, _ := json.Marshal(value)
		pairs = append(pairs, strings.Join(words, "")+": "+string(quoted))
	}
	return "{ " + strings.Join(pairs, ", ") + " }"
}
