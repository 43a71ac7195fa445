package bundle

import (
	"fmt"
	"os"
	"runtime/debug"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/internal/fault"
	"glasspocket/internal/widget"
)

func TestMountIsOneFunctionOfTheFolder(t *testing.T) {
	files := widget.Files{
		"mount.ts":     []byte("import { twice } from './lib/twice';\nexport default function mount(p: { root: HTMLElement }) { p.root.title = String(twice(21)); }"),
		"lib/twice.ts": []byte("import { two } from '../two.js';\nexport const twice = (n: number): number => n * two;\nexport const unused = 'never-shipped';"),
		"two.js":       []byte("export const two = 2;"),
	}
	code, faults := Builder{}.Mount(files, "mount.ts")
	require.Empty(t, faults)
	assert.Contains(t, code, "$mount(")
	assert.NotContains(t, code, "import")
	assert.NotContains(t, code, "never-shipped")
	again, _ := Builder{}.Mount(files, "mount.ts")
	assert.Equal(t, code, again, "the same folder builds to the same bytes")
}

func TestFaultsPointIntoImportedFiles(t *testing.T) {
	_, faults := Builder{}.Mount(widget.Files{
		"mount.ts": []byte("import './broken';\nexport default () => {};"), "broken.ts": []byte("const a = 1;\nconst b = ;"),
	}, "mount.ts")
	require.NotEmpty(t, faults)
	assert.Equal(t, "broken.ts", faults[0].Path)
	assert.Equal(t, [2]int{2, 11}, [2]int{faults[0].Line, faults[0].Column})
}

// A branch for another module system, which no browser takes, is no fault; a bare one is.
func TestGuardedRequire(t *testing.T) {
	const library = "(function (make) { if (typeof module === 'object' && module.exports) module.exports = make(require('some-package')); else window.pad = make() })(function () {});\n"
	_, faults := Builder{}.Mount(widget.Files{"mount.js": []byte(library + "export default () => {};")}, "mount.js")
	assert.Empty(t, faults)
	_, faults = Builder{}.Mount(widget.Files{"mount.js": []byte("const pad = require('some-package');\nexport default () => pad;")}, "mount.js")
	require.Len(t, faults, 1)
	assert.Equal(t, fault.MountImport, faults[0].Code)
}

func TestStyle(t *testing.T) {
	css, faults := Builder{}.Style("style.css", []byte("/* c */ .a { color : #ff0000 ; & .b { margin: 0px } }"))
	require.Empty(t, faults)
	assert.Equal(t, ".a{color:red}.a .b{margin:0}", css, "minified, and nesting lowered for older browsers")
}

func TestLoaderKnowsItsAddressOnly(t *testing.T) {
	code, err := Loader(`https://pockets.example/"</script>`)
	require.NoError(t, err)
	assert.Contains(t, code, "pockets.example")
	assert.NotContains(t, code, "__BASE__")
	assert.NotContains(t, strings.ToLower(code), "</script", "an odd address cannot end a script element")
	assert.NotContains(t, code, "innerHTML=\"")
}

func TestConsoleIsBuiltForTheSameBrowsers(t *testing.T) {
	config, err := os.ReadFile("../../console/vite.config.ts")
	require.NoError(t, err)
	var target []string
	for _, e := range widget.Floor {
		target = append(target, fmt.Sprintf("%q", e.Name+e.Version))
	}
	assert.Contains(t, string(config), "target: ["+strings.Join(target, ", ")+"]")
}

// Whatever is not too deep, the parsers get through with a stack far below the process's.
func FuzzDepth(f *testing.F) {
	for _, seed := range []string{"[", "a=>", "`${", "a.return/[", "if(a)/]/.x;[", "a++/[", "}/\"/;[", "a{", "a:not(", "<!-- `\n[", "class extends\n", "a<b>/(", "await/[", "!/(/+"} {
		f.Add(seed, "", uint16(20_000))
	}
	f.Add("(", ")", uint16(9_000))
	f.Fuzz(func(t *testing.T, unit, tail string, times uint16) {
		defer debug.SetMaxStack(debug.SetMaxStack(300 << 20))
		if (len(unit)+len(tail))*int(times) > 512<<10 {
			return
		}
		src := []byte(strings.Repeat(unit, int(times)) + "a" + strings.Repeat(tail, int(times)))
		for _, name := range []string{"mount.js", "mount.ts"} {
			Builder{}.Mount(widget.Files{name: src}, name)
		}
		Builder{}.Style("style.css", src)
	})
}
