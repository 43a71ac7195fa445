package engine

import (
	"bufio"
	"context"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"

	"github.com/coder/websocket"
	"github.com/coder/websocket/wsjson"

	"glasspocket/e2e/browser"
)

// firefox is Firefox over WebDriver BiDi (W3C, https://w3c.github.io/webdriver-bidi/).
type firefox struct {
	command *exec.Cmd
	profile string
	socket  *websocket.Conn
	context string
	ended   context.CancelFunc

	mu      sync.Mutex
	last    int
	waiting map[int]chan reply
	said    []string
}

type reply struct {
	ID      int             `json:"id"`
	Type    string          `json:"type"`
	Method  string          `json:"method"`
	Params  json.RawMessage `json:"params"`
	Result  json.RawMessage `json:"result"`
	Error   string          `json:"error"`
	Message string          `json:"message"`
}

// A headless Firefox answers as a phone does without these, and looks for updates and its
// maker's hosts.
var preferences = []string{
	`"ui.primaryPointerCapabilities", 6`, `"ui.allPointerCapabilities", 6`, `"ui.useOverlayScrollbars", 1`,
	`"browser.shell.checkDefaultBrowser", false`, `"datareporting.policy.dataSubmissionEnabled", false`, `"toolkit.telemetry.enabled", false`,
	`"app.update.disabledForTesting", true`, `"network.captive-portal-service.enabled", false`, `"network.connectivity-service.enabled", false`,
	`"services.settings.server", "http://127.0.0.1:9/"`, `"browser.safebrowsing.update.enabled", false`, `"extensions.update.enabled", false`,
	`"remote.active-protocols", 1`, `"dom.disable_open_during_load", false`, `"browser.tabs.remote.separatePrivilegedContentProcess", false`,
	`"browser.newtabpage.enabled", false`, `"browser.startup.page", 0`, `"browser.topsites.contile.enabled", false`,
}

func startFirefox() (driver, error) {
	path, err := exec.LookPath("firefox-esr")
	if err != nil {
		return nil, errors.New("there is no firefox-esr on this machine: run e2e/tools.sh")
	}
	f := &firefox{waiting: map[int]chan reply{}}
	if f.profile, err = os.MkdirTemp("", "glass-pocket-firefox-"); err != nil {
		return nil, err
	}
	prefs := "user_pref(" + strings.Join(preferences, ");\nuser_pref(") + ");\n"
	if err = os.WriteFile(filepath.Join(f.profile, "user.js"), []byte(prefs), 0o644); err != nil {
		return nil, err
	}
	f.command = exec.Command(path, "--headless", "--no-remote", "--profile", f.profile, "--remote-debugging-port", "0", "about:blank")
	f.command.Env = append(os.Environ(), "HOME="+f.profile, "MOZ_DISABLE_AUTO_SAFE_MODE=1")
	out, err := f.command.StderrPipe()
	if err != nil {
		return nil, err
	}
	if err = f.command.Start(); err != nil {
		return nil, err
	}
	lines := bufio.NewScanner(out)
	address := ""
	for address == "" && lines.Scan() {
		_, address, _ = strings.Cut(lines.Text(), "WebDriver BiDi listening on ")
	}
	go func() {
		for lines.Scan() {
		}
	}()
	if address == "" {
		f.close()
		return nil, errors.New("it did not start")
	}
	ctx, end := context.WithCancel(context.Background())
	f.ended = end
	if f.socket, _, err = websocket.Dial(ctx, address+"/session", nil); err != nil {
		f.close()
		return nil, err
	}
	f.socket.SetReadLimit(64 << 20)
	go f.read(ctx)
	if _, err = f.call("session.new", map[string]any{"capabilities": map[string]any{}}); err != nil {
		f.close()
		return nil, err
	}
	var tree struct{ Contexts []struct{ Context string } }
	if err = f.into(&tree, "browsingContext.getTree", map[string]any{}); err == nil {
		f.context = tree.Contexts[0].Context
		_, err = f.call("session.subscribe", map[string]any{"events": []string{"log.entryAdded"}})
	}
	if err != nil {
		f.close()
		return nil, err
	}
	return f, nil
}

func (f *firefox) read(ctx context.Context) {
	for {
		var r reply
		if err := wsjson.Read(ctx, f.socket, &r); err != nil {
			f.mu.Lock()
			for id, c := range f.waiting {
				c <- reply{Type: "error", Error: "closed", Message: err.Error()}
				delete(f.waiting, id)
			}
			f.mu.Unlock()
			return
		}
		f.mu.Lock()
		if r.Method == "log.entryAdded" {
			var entry struct{ Level, Text string }
			json.Unmarshal(r.Params, &entry)
			if entry.Level == "error" {
				f.said = append(f.said, entry.Text)
			}
		} else if c := f.waiting[r.ID]; c != nil {
			delete(f.waiting, r.ID)
			c <- r
		}
		f.mu.Unlock()
	}
}

func (f *firefox) call(method string, params any) (json.RawMessage, error) {
	ctx, cancel := context.WithTimeout(context.Background(), browser.Patience)
	defer cancel()
	answer := make(chan reply, 1)
	f.mu.Lock()
	f.last++
	id := f.last
	f.waiting[id] = answer
	f.mu.Unlock()
	if err := wsjson.Write(ctx, f.socket, map[string]any{"id": id, "method": method, "params": params}); err != nil {
		return nil, err
	}
	select {
	case r := <-answer:
		if r.Type == "error" {
			return nil, fmt.Errorf("%s: %s: %s", method, r.Error, r.Message)
		}
		return r.Result, nil
	case <-ctx.Done():
		return nil, fmt.Errorf("%s: %w", method, ctx.Err())
	}
}

func (f *firefox) into(v any, method string, params any) error {
	result, err := f.call(method, params)
	if err == nil {
		err = json.Unmarshal(result, v)
	}
	return err
}

func (f *firefox) open(address string) error {
	_, err := f.call("browsingContext.navigate", map[string]any{"context": f.context, "url": address, "wait": "complete"})
	if err != nil && strings.Contains(err.Error(), "NS_BINDING_ABORTED") {
		// Seen on a busy machine, about once in 200 navigations. The same navigation then succeeds.
		_, err = f.call("browsingContext.navigate", map[string]any{"context": f.context, "url": address, "wait": "complete"})
	}
	return err
}

func (f *firefox) evaluate(body string) ([]byte, error) {
	var result struct {
		Type             string
		Result           struct{ Value json.RawMessage }
		ExceptionDetails struct{ Text string }
	}
	if err := f.into(&result, "script.callFunction", map[string]any{"functionDeclaration": "async () => {" + body + "}", "awaitPromise": true, "target": map[string]any{"context": f.context}, "userActivation": true}); err != nil {
		return nil, err
	}
	if result.Type != "success" {
		return nil, errors.New(result.ExceptionDetails.Text)
	}
	var text string
	err := json.Unmarshal(result.Result.Value, &text)
	return []byte(text), err
}

func (f *firefox) perform(sources ...source) error {
	_, err := f.call("input.performActions", map[string]any{"context": f.context, "actions": sources})
	return err
}

func (f *firefox) resize(width, height int) error {
	_, err := f.call("browsingContext.setViewport", map[string]any{"context": f.context, "viewport": map[string]int{"width": width, "height": height}})
	return err
}

func (f *firefox) image() ([]byte, error) {
	var shot struct{ Data string }
	if err := f.into(&shot, "browsingContext.captureScreenshot", map[string]any{"context": f.context}); err != nil {
		return nil, err
	}
	return base64.StdEncoding.DecodeString(shot.Data)
}

func (f *firefox) errors() []string {
	f.mu.Lock()
	defer f.mu.Unlock()
	return append([]string{}, f.said...)
}

func (f *firefox) close() {
	if f.socket != nil {
		f.socket.CloseNow()
	}
	if f.ended != nil {
		f.ended()
	}
	if f.command != nil && f.command.Process != nil {
		f.command.Process.Kill()
		f.command.Wait()
	}
	os.RemoveAll(f.profile)
}
