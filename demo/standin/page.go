package standin

import (
	"bytes"
	"hash/fnv"
	"image"
	"image/color"
	"image/png"
	"math"
	"net/http"
	"text/template"
)

const look = `<style>
body{margin:0;background:#f3f1ea;color:#17233a;font:16px/1.55 system-ui,sans-serif}
main{max-width:720px;margin:0 auto;padding:32px 24px 64px}
h1{margin:0 0 4px;font-size:28px}h2{margin:32px 0 8px;font-size:18px}
.about{margin:0;color:#4b5b73}a{color:#0b6b63}
form{display:inline-block;margin:4px 6px 4px 0}
button{font:inherit;padding:8px 14px;border:1px solid #17233a33;border-radius:8px;background:#fff;color:inherit;cursor:pointer}
button[aria-pressed=true]{background:#0b6b63;border-color:#0b6b63;color:#fff}
button:focus-visible,a:focus-visible{outline:3px solid #0b6b63;outline-offset:2px}
table{width:100%;border-collapse:collapse;font-size:14px}th,td{text-align:left;padding:4px 8px 4px 0;border-bottom:1px solid #17233a1f;vertical-align:top}
td:nth-child(3){word-break:break-all}
article{background:#fff;border:1px solid #17233a1f;border-radius:12px;padding:16px 20px;margin:12px 0}
article p{margin:4px 0}.by{color:#4b5b73;font-size:14px}img{max-width:100%;border-radius:8px}
ul{padding-left:20px}
</style>`

var pageFunctions = template.FuncMap{"e": template.HTMLEscapeString}

// controlPage escapes by hand, because it uses text/template.
var controlPage = template.Must(template.New("").Funcs(pageFunctions).Parse(`<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>{{e .Name}}: control</title>` + look + `
<main><h1>{{e .Name}}</h1><p class="about">{{e .About}} This page controls the stand-in. <a href="/">Go to its own pages</a></p>
<h2>How it answers</h2>
{{range .Modes}}<form method="post"><button name="mode" value="{{.Name}}" aria-pressed="{{eq .Name $.Mode}}">{{e .Label}}</button></form>
{{end}}<h2>Change its content</h2>
{{range .Changes}}<form method="post"><button name="change" value="{{.Name}}">{{e .Label}}</button></form>
{{end}}<h2>Last requests</h2>
{{if .Requests}}<table><tr><th>Time</th><th>Status</th><th>Request</th></tr>{{range .Requests}}<tr><td>{{.At.Format "15:04:05"}}</td><td>{{.Status}}</td><td>{{.Method}} {{e .Path}}</td></tr>{{end}}</table>{{else}}<p class="about">There have been none.</p>{{end}}
</main></html>`))

// sendPage sends a page for people.
func sendPage(w http.ResponseWriter, r *http.Request, head, body string) {
	send(w, r, "text/html; charset=utf-8", `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">`+head+look+`</head><body><main>`+body+`</main></body></html>`)
}

// drawn returns an image that depends on its name: hills, or rings, in the colours of the isles.
func drawn(name string, width, height int) []byte {
	h := fnv.New32a()
	h.Write([]byte(name))
	seed := h.Sum32()
	colours := []color.RGBA{{11, 107, 99, 255}, {23, 35, 58, 255}, {194, 87, 12, 255}, {222, 214, 196, 255}, {120, 160, 170, 255}, {150, 75, 60, 255}}
	pick := func(n uint32) color.RGBA { return colours[(seed/(n+1)+n)%uint32(len(colours))] }
	img := image.NewPaletted(image.Rect(0, 0, width, height), nil)
	for _, c := range colours {
		img.Palette = append(img.Palette, c)
	}
	sky, phase := pick(0), float64(seed%628)/100
	for y := range height {
		for x := range width {
			c := sky
			fx, fy := float64(x)/float64(width), float64(y)/float64(height)
			if math.Hypot(fx-0.7, (fy-0.3)*float64(height)/float64(width)) < 0.12 {
				c = pick(3)
			}
			for n := uint32(1); n < 4; n++ {
				if fy > 0.35+0.18*float64(n)+0.07*math.Sin(fx*float64(5+n*2)+phase*float64(n)) {
					c = pick(n)
					if c == sky {
						c = pick(n + 2)
					}
				}
			}
			img.Set(x, y, c)
		}
	}
	var b bytes.Buffer
	png.Encode(&b, img)
	return b.Bytes()
}

// media serves drawn images below a path.
func (s *StandIn) media(pattern string, width, height int) {
	s.mux.HandleFunc("GET "+pattern+"{name}", func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set("Content-Type", "image/png")
		w.Header().Set("Cache-Control", "max-age=86400")
		w.Write(drawn(r.PathValue("name"), width, height))
	})
}
