// Package service runs the built glasspocketd, for tests, measurements and screenshots.
package service

import (
	"bufio"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"syscall"

	"glasspocket/internal/client"
)

// Root is the repository's folder.
func Root() string {
	_, file, _, _ := runtime.Caller(0)
	if filepath.IsAbs(file) {
		return filepath.Dir(filepath.Dir(filepath.Dir(file)))
	}
	// Built with -trimpath: look upwards from where the program runs.
	for dir, _ := os.Getwd(); dir != "/"; dir = filepath.Dir(dir) {
		if _, err := os.Stat(filepath.Join(dir, "go.mod")); err == nil {
			return dir
		}
	}
	return "."
}

// Binary is the path of a built program.
func Binary(name string) string { return filepath.Join(Root(), "bin", name) }

// Demo is a running demo.
type Demo struct {
	Public, Manage, Sites, Data string
	Voices, Skerry, Harbour     string
	Name, Password, Token       string
	command                     *exec.Cmd
	output                      *strings.Builder
}

// StartDemo starts the demo on free ports, in data (a new temporary folder when ""), and
// returns when it is ready.
func StartDemo(data string, more ...string) (*Demo, error) { return StartDemoUnder(nil, data, more...) }

// StartDemoUnder is StartDemo under another program, such as one that watches it.
func StartDemoUnder(under []string, data string, more ...string) (*Demo, error) {
	dir, err := os.MkdirTemp("", "glass-pocket-announce-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	announce := filepath.Join(dir, "announce.json")
	args := append([]string{"demo", "-public-addr", "127.0.0.1:0", "-manage-addr", "127.0.0.1:0", "-sites-addr", "127.0.0.1:0", "-voices-addr", "127.0.0.1:0", "-skerry-addr", "127.0.0.1:0", "-harbour-addr", "127.0.0.1:0", "-announce", announce, "-data", data}, more...)
	args = append(append(append([]string{}, under...), Binary("glasspocketd")), args...)
	d := &Demo{command: exec.Command(args[0], args[1:]...), output: &strings.Builder{}}
	if len(under) > 0 { // a group of their own, so that both end together
		d.command.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	}
	if err := d.begin("Stop with"); err != nil {
		return nil, err
	}
	text, err := os.ReadFile(announce)
	if err == nil {
		err = json.Unmarshal(text, d)
	}
	return d, err
}

// Restart starts the service with the data of a demo that has ended, at the same addresses and
// without the demo's host pages.
func (d *Demo) Restart() error {
	d.command = exec.Command(Binary("glasspocketd"), "serve", "-data", d.Data, "-open-gallery", "-public-addr", strings.TrimPrefix(d.Public, "http://"), "-manage-addr", strings.TrimPrefix(d.Manage, "http://"))
	return d.begin("Console")
}

// begin starts a command and returns when it has printed a line that begins with ready.
func (d *Demo) begin(ready string) error {
	command := d.command
	out, err := command.StdoutPipe()
	if err != nil {
		return err
	}
	command.Stderr = command.Stdout
	if err := command.Start(); err != nil {
		return fmt.Errorf("%w: run make build first", err)
	}
	lines := bufio.NewScanner(out)
	for lines.Scan() {
		d.output.WriteString(lines.Text() + "\n")
		if strings.HasPrefix(lines.Text(), ready) {
			go io.Copy(io.Discard, out)
			return nil
		}
	}
	command.Wait()
	return errors.New("it did not start:\n" + d.output.String())
}

// Client is a client with the demo's token.
func (d *Demo) Client() *client.Client { return &client.Client{Server: d.Manage, Token: d.Token} }

// PID is the process's number.
func (d *Demo) PID() int { return d.command.Process.Pid }

// Stop stops the demo as Ctrl-C does, and tells how it ended.
func (d *Demo) Stop() error {
	d.command.Process.Signal(syscall.SIGINT)
	return d.command.Wait()
}

// Kill ends it as a power cut would, as far as the process goes.
func (d *Demo) Kill() {
	if d.command.SysProcAttr != nil {
		syscall.Kill(-d.PID(), syscall.SIGKILL)
	}
	d.command.Process.Kill()
	d.command.Wait()
}
