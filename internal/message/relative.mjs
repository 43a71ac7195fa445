// Writes relative.json: relative times in the past, from the Unicode CLDR data in Node's ICU.
// Run it after adding a language to written.go: node internal/message/relative.mjs LANGUAGES > internal/message/relative.json
const out = {};
for (const lang of process.argv.slice(2)) {
  const tag = lang + "-u-nu-latn"; // western digits, as the service's other numbers
  const [auto, always] = ["auto", "always"].map((numeric) => new Intl.RelativeTimeFormat(tag, { numeric }));
  const rules = new Intl.PluralRules(lang);
  const examples = {}; // a number for each plural form, below 60
  for (let n = 1; n < 60; n++) examples[rules.select(n)] ??= n;
  const forms = Object.keys(examples);
  const units = Object.fromEntries(
    ["minute", "hour", "day"].map((unit) => [unit, forms.map((form) => always.formatToParts(-examples[form], unit).map((part) => (part.type == "integer" ? "#" : part.value)).join(""))]),
  );
  let form = "";
  for (let n = 1; n < 60; n++) form += forms.indexOf(rules.select(n));
  out[lang] = { now: auto.format(0, "second"), yesterday: auto.format(-1, "day"), ...units, form };
}
console.log("{\n" + Object.entries(out).map(([lang, v]) => `  ${JSON.stringify(lang)}: ${JSON.stringify(v)}`).join(",\n") + "\n}");
