package engine

import (
	"bufio"
	"bytes"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"time"

	"glasspocket/e2e/browser"
)

// webkit is WebKitGTK over WebDriver (W3C, https://www.w3.org/TR/webdriver2/), in a display of
// its own. A driver has one session.
type webkit struct {
	display, command *exec.Cmd
	home, session    string
	frame            [2]int // what the window is larger than its page
}

func startWebKit() (driver, error) {
	w := &webkit{}
	if err := w.start(); err != nil {
		w.close()
		return nil, err
	}
	return w, nil
}

func (w *webkit) start() error {
	for _, name := range []string{"Xvfb", "WebKitWebDriver"} {
		if _, err := exec.LookPath(name); err != nil {
			return fmt.Errorf("there is no %s on this machine: run e2e/tools.sh", name)
		}
	}
	minis, _ := filepath.Glob("/usr/lib/*/webkit2gtk-4.1/MiniBrowser")
	if len(minis) == 0 {
		return errors.New("there is no MiniBrowser of WebKitGTK on this machine: run e2e/tools.sh")
	}
	var err error
	if w.home, err = os.MkdirTemp("", "glass-pocket-webkit-"); err != nil {
		return err
	}
	// Xvfb chooses a free display and says which.
	w.display = exec.Command("Xvfb", "-displayfd", "1", "-screen", "0", "1600x1200x24", "-nolisten", "tcp")
	out, err := w.display.StdoutPipe()
	if err != nil {
		return err
	}
	if err = w.display.Start(); err != nil {
		return err
	}
	number, err := bufio.NewReader(out).ReadString('\n')
	if err != nil {
		return fmt.Errorf("Xvfb did not start: %w", err)
	}
	free, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return err
	}
	port := free.Addr().(*net.TCPAddr).Port
	free.Close()
	w.command = exec.Command("WebKitWebDriver", "-p", fmt.Sprint(port))
	w.command.Env = append(os.Environ(), "DISPLAY=:"+strings.TrimSpace(number), "HOME="+w.home, "XDG_RUNTIME_DIR="+w.home, "XDG_CACHE_HOME="+w.home, "XDG_CONFIG_HOME="+w.home, "XDG_DATA_HOME="+w.home,
		"WEBKIT_DISABLE_SANDBOX_THIS_IS_DANGEROUS=1", "LIBGL_ALWAYS_SOFTWARE=1", "NO_AT_BRIDGE=1", "LC_ALL=C.UTF-8")
	if err = w.command.Start(); err != nil {
		return err
	}
	server := fmt.Sprintf("http://127.0.0.1:%d", port)
	for until := time.Now().Add(browser.Patience); ; time.Sleep(10 * time.Millisecond) {
		res, err := http.Get(server + "/status")
		if err == nil {
			res.Body.Close()
			break
		}
		if time.Now().After(until) {
			return err
		}
	}
	w.session = server + "/session"
	var made struct{ SessionID string }
	if err = w.call(&made, "POST", "", map[string]any{"capabilities": map[string]any{"alwaysMatch": map[string]any{
		"webkitgtk:browserOptions": map[string]any{"binary": minis[0], "args": []string{"--automation"}}}}}); err != nil {
		return err
	}
	w.session += "/" + made.SessionID
	return w.call(nil, "POST", "/timeouts", map[string]int{"script": 60000, "pageLoad": 60000})
}

func (w *webkit) call(v any, method, path string, body any) error {
	text, err := json.Marshal(body)
	if err != nil {
		return err
	}
	req, err := http.NewRequest(method, w.session+path, bytes.NewReader(text))
	if err != nil {
		return err
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := (&http.Client{Timeout: 2 * browser.Patience}).Do(req)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	text, err = io.ReadAll(res.Body)
	if err != nil {
		return err
	}
	var answer struct{ Value json.RawMessage }
	if err = json.Unmarshal(text, &answer); err != nil {
		return fmt.Errorf("%s: %w", text, err)
	}
	if res.StatusCode != 200 {
		var failed struct{ Error, Message string }
		json.Unmarshal(answer.Value, &failed)
		return fmt.Errorf("%s: %s", failed.Error, failed.Message)
	}
	if v == nil {
		return nil
	}
	return json.Unmarshal(answer.Value, v)
}

func (w *webkit) open(address string) error {
	return w.call(nil, "POST", "/url", map[string]string{"url": address})
}

func (w *webkit) evaluate(body string) ([]byte, error) {
	var result struct{ Value, Failed *string }
	script := "const done = arguments[0]; (async () => {" + body + "\n})().then(value => done({value}), error => done({failed: String(error)}));"
	if err := w.call(&result, "POST", "/execute/async", map[string]any{"script": script, "args": []any{}}); err != nil {
		return nil, err
	}
	if result.Failed != nil {
		return nil, errors.New(*result.Failed)
	}
	if result.Value == nil {
		return nil, errors.New("nothing came back")
	}
	return []byte(*result.Value), nil
}

func (w *webkit) perform(sources ...source) error {
	return w.call(nil, "POST", "/actions", map[string]any{"actions": sources})
}

func (w *webkit) resize(width, height int) error {
	for range 3 {
		if err := w.call(nil, "POST", "/window/rect", map[string]int{"width": width + w.frame[0], "height": height + w.frame[1]}); err != nil {
			return err
		}
		var is [2]int
		for until := time.Now().Add(2 * time.Second); time.Now().Before(until); time.Sleep(10 * time.Millisecond) {
			text, err := w.evaluate("return JSON.stringify([innerWidth, innerHeight])")
			if err != nil {
				return err
			}
			json.Unmarshal(text, &is)
			if is == [2]int{width, height} {
				return nil
			}
		}
		w.frame = [2]int{w.frame[0] + width - is[0], w.frame[1] + height - is[1]}
	}
	return fmt.Errorf("the window does not become %d by %d", width, height)
}

func (w *webkit) image() ([]byte, error) {
	var data string
	if err := w.call(&data, "GET", "/screenshot", nil); err != nil {
		return nil, err
	}
	return base64.StdEncoding.DecodeString(data)
}

func (w *webkit) errors() []string { return nil }

func (w *webkit) close() {
	if strings.Count(w.session, "/") > 3 {
		w.call(nil, "DELETE", "", nil)
	}
	for _, c := range []*exec.Cmd{w.command, w.display} {
		if c != nil && c.Process != nil {
			c.Process.Kill()
			c.Wait()
		}
	}
	os.RemoveAll(w.home)
}
