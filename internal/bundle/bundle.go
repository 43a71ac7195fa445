// Package bundle builds what browsers run, with esbuild's Go API. It never reads from disk or
// network: every import resolves within the given files.
package bundle

import (
	"bytes"
	"encoding/json"
	"fmt"
	"path"
	"regexp"
	"strings"

	"github.com/andybalholm/brotli"
	"github.com/evanw/esbuild/pkg/api"

	"glasspocket/internal/asset"
	"glasspocket/internal/fault"
	"glasspocket/internal/jsondoc"
	"glasspocket/internal/nesting"
	"glasspocket/internal/widget"
	"glasspocket/loader"
)

// engines are the oldest supported browsers, for esbuild.
var engines = func() (list []api.Engine) {
	names := map[string]api.EngineName{"chrome": api.EngineChrome, "firefox": api.EngineFirefox, "safari": api.EngineSafari}
	for _, e := range widget.Floor {
		list = append(list, api.Engine{Name: names[e.Name], Version: e.Version})
	}
	return list
}()

// Builder implements widget.Builder.
type Builder struct{}

// Style minifies a stylesheet.
func (Builder) Style(file string, css []byte) (string, fault.List) {
	if _, deep := nesting.Style(css); deep {
		return "", nil // reported by the check of the stylesheet
	}
	r := api.Transform(string(css), api.TransformOptions{Loader: api.LoaderCSS, Engines: engines, Sourcefile: file,
		MinifyWhitespace: true, MinifySyntax: true, MinifyIdentifiers: true, Charset: api.CharsetUTF8, LegalComments: api.LegalCommentsNone, LogLevel: api.LogLevelSilent})
	// Browsers drop CSS that they cannot parse, so esbuild only warns. For an author this is a
	// fault.
	return strings.TrimSpace(string(r.Code)), faults(append(r.Errors, r.Warnings...), fault.StyleSyntax)
}

// Mount bundles the mount module at entry with its imports from files. The result is statements
// that call $mount with the module's default export.
func (Builder) Mount(files widget.Files, entry string) (string, fault.List) {
	return run(files, mounting(entry), fault.MountSyntax, api.FormatIIFE, nil)
}

func mounting(entry string) string {
	return fmt.Sprintf("import mount from %q;\n$mount(mount);", "./"+entry)
}

// TryMount bundles the mount module like Mount, but for a preview: unminified, with a source map.
func (Builder) TryMount(files widget.Files, entry string) (code, sourceMap string, list fault.List) {
	if list = tooDeep(files); len(list) > 0 {
		return "", "", list
	}
	o := options(files, mounting(entry), api.FormatIIFE)
	o.MinifyWhitespace, o.MinifySyntax, o.MinifyIdentifiers = false, false, false
	o.Sourcemap, o.SourcesContent = api.SourceMapExternal, api.SourcesContentExclude
	r := api.Build(o)
	if list = faults(append(r.Errors, importantWarnings(r.Warnings)...), fault.MountSyntax); len(list) > 0 {
		return "", "", list
	}
	for _, f := range r.OutputFiles {
		if strings.HasSuffix(f.Path, ".map") {
			sourceMap = strings.ReplaceAll(string(f.Contents), `"widget:`, `"`)
		} else {
			code = string(f.Contents)
		}
	}
	return code, sourceMap, nil
}

// Loader bundles the loader for a public address.
func Loader(base string) (string, error) { return ours("main.ts", api.FormatIIFE, base) }

// SealedLoader bundles the loader of sealed scripts, which loads no other script.
func SealedLoader(base string) (string, error) {
	return defined("main.ts", api.FormatIIFE, base, "true")
}

// Preview bundles the script of the preview's blank page.
func Preview(base string) (string, error) { return ours("preview.ts", api.FormatIIFE, base) }

// Gallery bundles the script of the frame behind the console's gallery.
func Gallery(base string) (string, error) { return ours("gallery.ts", api.FormatIIFE, base) }

// Worktop bundles the script of the worktop's frame.
func Worktop(base string) (string, error) { return ours("worktop.ts", api.FormatIIFE, base) }

// Later are the modules that the loader loads when they are needed: exact corrects a page's clock,
// asked requests a page's overrides, why explains a page's pockets to its owner.
var Later = []string{"asked", "exact", "why"}

// Beside are scripts that a page uses instead of the loader or in addition to it: near delays
// pockets that are far down, links converts links to mount points, fit sets the height of frames,
// and tell is its counterpart in the frame.
var Beside = []string{"near", "links", "fit", "tell"}

// Script bundles one of Beside.
func Script(name, base string) (string, error) { return ours(name+".ts", api.FormatIIFE, base) }

// Module bundles one of Later.
func Module(name, base string) (string, error) {
	return ours(name+".ts", api.FormatESModule, base)
}

// Asset processes an asset.
func (Builder) Asset(file string, src []byte) (*asset.Made, fault.List) {
	return asset.Make(path.Base(file), src)
}

// Weight returns the size of a script as sent to visitors: compressed with brotli at the highest
// level.
func (Builder) Weight(code string) int {
	var b bytes.Buffer
	w := brotli.NewWriterLevel(&b, brotli.BestCompression)
	w.Write([]byte(code))
	w.Close()
	return b.Len()
}

// Kit bundles parts of the kit, in order, each called by the name of its file. The result is
// statements that call $kit with a function of a pocket, a table, and the widget's mount function,
// if it has one. The function calls that with the pocket and what the parts have added, or not at
// all if the pocket must not be mounted. A part that waits for something, or starts again,
// continues with its third argument.
func Kit(parts []string) (string, error) {
	files, _, err := widget.Collect(loader.Sources)
	if err != nil {
		return "", err
	}
	var src strings.Builder
	for _, p := range parts {
		fmt.Fprintf(&src, "import { %s } from \"./kit/%s\";\n", p, p)
	}
	src.WriteString("$kit((pocket, table, run) => {\n")
	ends := "run?.(pocket);\n"
	for _, p := range parts {
		if p == "asked" || p == "small" || p == "here" {
			src.WriteString(p + "(pocket, table, () => {\n")
			ends += "});\n"
			continue
		}
		fmt.Fprintf(&src, "if (%s(pocket, table) === false) return;\n", p)
	}
	src.WriteString(ends + "});")
	code, faults := run(files, src.String(), fault.MountSyntax, api.FormatIIFE, nil)
	return code, faults.Err()
}

func ours(entry string, format api.Format, base string) (string, error) {
	return defined(entry, format, base, "false")
}

func defined(entry string, format api.Format, base, sealed string) (string, error) {
	files, _, err := widget.Collect(loader.Sources)
	if err != nil {
		return "", err
	}
	quoted, _ := json.Marshal(base)
	code, faults := run(files, fmt.Sprintf("export * from %q;", "./"+entry), fault.MountSyntax, format, map[string]string{"__BASE__": string(quoted), "__SEALED__": sealed})
	return code, faults.Err()
}

// tooDeep reports scripts that esbuild's parser must not read: it is recursive, and a stack
// overflow ends the process.
func tooDeep(files widget.Files) (list fault.List) {
	for _, name := range files.Paths() {
		if ending := path.Ext(name); ending != ".js" && ending != ".ts" {
			continue
		}
		if at, deep := nesting.Script(files[name]); deep {
			line, column := jsondoc.Place(files[name], at)
			list = append(list, fault.Fault{Path: name, Line: line, Column: column, Code: fault.TooDeep,
				What: fmt.Sprintf("Brackets and operators are nested more than %d levels deep, or one expression has more than %d commas.", nesting.ScriptMost, nesting.CommasMost), Fix: "Split the expression into several statements."})
		}
	}
	return list
}

// options are esbuild's options to build what stdin imports from files.
func options(files widget.Files, stdin string, format api.Format) api.BuildOptions {
	return api.BuildOptions{
		Stdin:  &api.StdinOptions{Contents: stdin, Sourcefile: "(entry)", Loader: api.LoaderJS},
		Bundle: true, Format: format, Platform: api.PlatformBrowser, Engines: engines,
		MinifyWhitespace: true, MinifySyntax: true, MinifyIdentifiers: true,
		Charset: api.CharsetUTF8, LegalComments: api.LegalCommentsNone, TreeShaking: api.TreeShakingTrue,
		Write: false, Outfile: "out.js", LogLevel: api.LogLevelSilent, TsconfigRaw: "{}",
		Plugins: []api.Plugin{folder(files)},
	}
}

func run(files widget.Files, stdin string, code fault.Code, format api.Format, define map[string]string) (string, fault.List) {
	if list := tooDeep(files); len(list) > 0 {
		return "", list
	}
	o := options(files, stdin, format)
	o.Define = define
	r := api.Build(o)
	if fs := faults(append(r.Errors, importantWarnings(r.Warnings)...), code); len(fs) > 0 {
		return "", fs
	}
	return strings.TrimSpace(string(r.OutputFiles[0].Contents)), nil
}

// importantWarnings keeps warnings that mean that the module cannot work.
func importantWarnings(list []api.Message) (keep []api.Message) {
	for _, m := range list {
		if m.ID == "import-is-undefined" {
			keep = append(keep, m)
		}
	}
	return keep
}

var guarded = regexp.MustCompile(`\btypeof\s+(?:module|exports|require|define)\b`)

// folder resolves imports within files, and refuses all others.
func folder(files widget.Files) api.Plugin {
	return api.Plugin{Name: "folder", Setup: func(b api.PluginBuild) {
		b.OnResolve(api.OnResolveOptions{Filter: ".*"}, func(a api.OnResolveArgs) (api.OnResolveResult, error) {
			if strings.HasPrefix(a.Path, "./") || strings.HasPrefix(a.Path, "../") {
				base := path.Join(path.Dir(a.Importer), a.Path)
				if a.Namespace != "widget" {
					base = path.Join(a.Path)
				}
				for _, ending := range []string{"", ".ts", ".js"} {
					if _, ok := files[base+ending]; ok {
						return api.OnResolveResult{Path: base + ending, Namespace: "widget"}, nil
					}
				}
			}
			// Libraries for several module systems first check which one there is. Browsers have
			// none, so they never reach this branch.
			if a.Kind == api.ResolveJSRequireCall && guarded.Match(files[a.Importer]) {
				return api.OnResolveResult{Path: a.Path, External: true}, nil
			}
			return api.OnResolveResult{Errors: []api.Message{{ID: "outside", Text: fmt.Sprintf("%q is not a file in the folder", a.Path)}}}, nil
		})
		b.OnLoad(api.OnLoadOptions{Filter: ".*", Namespace: "widget"}, func(a api.OnLoadArgs) (api.OnLoadResult, error) {
			text, loader := string(files[a.Path]), api.LoaderJS
			if strings.HasSuffix(a.Path, ".ts") {
				loader = api.LoaderTS
			}
			return api.OnLoadResult{Contents: &text, Loader: loader}, nil
		})
	}}
}

func faults(messages []api.Message, code fault.Code) (list fault.List) {
	for _, m := range messages[:min(len(messages), fault.Most)] {
		f := fault.Fault{Code: code, What: m.Text + ".", Fix: "Correct the code here."}
		if l := m.Location; l != nil {
			f.Path = strings.TrimPrefix(l.File, "widget:")
			f.Line = l.Line
			if l.Column <= len(l.LineText) {
				f.Column = 1 + len([]rune(l.LineText[:l.Column]))
			}
			if f.Path == "(entry)" { // our own two lines, so the module has no default export
				f.Path, f.Line, f.Column = "", 1, 1
				f.Fix = "Export the mount function: export default function mount(pocket) { … }"
			}
		}
		if strings.Contains(m.Text, "is not a file in the folder") {
			f.Code, f.Fix = fault.MountImport, "Import only files in this folder, starting with ./"
		}
		list = append(list, f)
	}
	return list
}
