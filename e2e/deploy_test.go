package e2e

import (
	"bytes"
	"context"
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"fmt"
	"io"
	"math/big"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"glasspocket/e2e/service"
)

// selfSigned writes a certificate for names, and its key.
func selfSigned(t *testing.T, dir string, names ...string) (cert, key string) {
	t.Helper()
	private, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	about := x509.Certificate{SerialNumber: big.NewInt(1), Subject: pkix.Name{CommonName: names[0]}, DNSNames: names, NotBefore: time.Now().Add(-time.Hour), NotAfter: time.Now().Add(time.Hour)}
	der, err := x509.CreateCertificate(rand.Reader, &about, &about, &private.PublicKey, private)
	require.NoError(t, err)
	secret, err := x509.MarshalECPrivateKey(private)
	require.NoError(t, err)
	cert, key = filepath.Join(dir, "cert.pem"), filepath.Join(dir, "key.pem")
	require.NoError(t, os.WriteFile(cert, pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), 0o600))
	require.NoError(t, os.WriteFile(key, pem.EncodeToMemory(&pem.Block{Type: "EC PRIVATE KEY", Bytes: secret}), 0o600))
	return cert, key
}

// The nginx configuration that we give works as it is, but for ports and certificates: TLS and
// HTTP/2, visitors' addresses, cookies that only TLS carries, and the limits of bodies.
func TestBehindNginx(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	serve := exec.Command(service.Binary("glasspocketd"), "serve", "-data", filepath.Join(dir, "data"), "-public-addr", "127.0.0.1:0", "-manage-addr", "127.0.0.1:0", "-public-url", "https://pockets.example", "-manage-url", "https://manage.example.net", "-trusted-proxies", "127.0.0.0/8", "-log", "json", "-debug")
	var log bytes.Buffer
	serve.Stderr = &log
	pipe, err := serve.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, serve.Start())
	stop := func() { serve.Process.Signal(syscall.SIGTERM); serve.Wait() }
	defer stop()
	told := make([]byte, 4096)
	n, err := io.ReadAtLeast(pipe, told, 150)
	require.NoError(t, err)
	password := regexp.MustCompile(`password (\S+)`).FindStringSubmatch(string(told[:n]))[1]
	listeners := listening(t, serve.Process.Pid)
	require.Len(t, listeners, 2)

	given, err := os.ReadFile(filepath.Join(service.Root(), "deploy", "nginx.conf"))
	require.NoError(t, err)
	free, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	at := free.Addr().String()
	free.Close()
	cert, key := selfSigned(t, dir, "pockets.example", "manage.example.net")
	site := string(given)
	for _, change := range [][2]string{{`listen 443 ssl`, "listen " + at + " ssl"}, {`listen \[::\]:443 ssl http2;`, ""}, {`ssl_certificate_key .*`, "ssl_certificate_key " + key + ";"}, {`ssl_certificate  .*`, "ssl_certificate " + cert + ";"}} {
		site = regexp.MustCompile(change[0]).ReplaceAllString(site, change[1])
	}
	// Which listener is whose, the service's answers tell.
	for _, l := range listeners {
		res, _ := send(t, "GET", "http://"+l+"/loader.js", "")
		name := map[bool]string{true: "127.0.0.1:7441", false: "127.0.0.1:7440"}[res.StatusCode == 200]
		site = strings.ReplaceAll(site, name, l)
	}
	temps := ""
	for _, name := range []string{"client_body", "proxy", "fastcgi", "uwsgi", "scgi"} {
		temps += fmt.Sprintf("%s_temp_path %s/%[1]s; ", name, dir)
	}
	require.NoError(t, os.WriteFile(filepath.Join(dir, "site.conf"), []byte(site), 0o600))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "nginx.conf"), []byte("daemon off; master_process off; pid "+dir+"/pid; error_log stderr; events {} http { access_log off; "+temps+"include "+dir+"/site.conf; }"), 0o600))
	nginx := exec.Command("nginx", "-e", "stderr", "-c", filepath.Join(dir, "nginx.conf"))
	var said bytes.Buffer
	nginx.Stderr = &said
	require.NoError(t, nginx.Start())
	defer func() { nginx.Process.Signal(syscall.SIGTERM); nginx.Wait() }()
	require.Eventually(t, func() bool {
		conn, err := net.Dial("tcp", at)
		if err == nil {
			conn.Close()
		}
		return err == nil
	}, 10*time.Second, 5*time.Millisecond, "nginx: %s", &said)

	browser := &http.Client{Transport: &http.Transport{ForceAttemptHTTP2: true, TLSClientConfig: &tls.Config{InsecureSkipVerify: true}, DisableCompression: true,
		DialContext: func(ctx context.Context, network, _ string) (net.Conn, error) {
			return (&net.Dialer{}).DialContext(ctx, network, at)
		}}}
	ask := func(method, address, body string, headers ...string) (*http.Response, string) {
		req, err := http.NewRequestWithContext(t.Context(), method, address, strings.NewReader(body))
		require.NoError(t, err)
		for i := 0; i+1 < len(headers); i += 2 {
			req.Header.Set(headers[i], headers[i+1])
		}
		res, err := browser.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		text, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return res, string(text)
	}
	res, _ := ask("GET", "https://pockets.example/loader.js", "", "Accept-Encoding", "br")
	assert.Equal(t, [3]any{200, 2, "br"}, [3]any{res.StatusCode, res.ProtoMajor, res.Header.Get("Content-Encoding")})
	res, text := ask("POST", "https://manage.example.net/api/v1/session", `{"name":"operator","password":"`+password+`"}`, "Content-Type", "application/json", "Origin", "https://manage.example.net", "X-Forwarded-For", "203.0.113.9")
	require.Equal(t, 201, res.StatusCode, text)
	cookie := res.Header.Get("Set-Cookie")
	assert.Regexp(t, `^__Host-glass-session=.*; HttpOnly; secure; SameSite=Strict$`, cookie)
	res, _ = ask("GET", "https://manage.example.net/api/v1/session", "", "Cookie", strings.Split(cookie, ";")[0])
	assert.Equal(t, 200, res.StatusCode)
	res, _ = ask("POST", "https://pockets.example/s/none.json", strings.Repeat("x", 70<<10))
	assert.Equal(t, 413, res.StatusCode)
	stop()
	assert.Contains(t, log.String(), `"from":"203.0.113.0/24"`)
}

// listening are the addresses that a process listens on.
func listening(t *testing.T, pid int) (list []string) {
	t.Helper()
	sockets := map[string]bool{}
	links, err := filepath.Glob(fmt.Sprintf("/proc/%d/fd/*", pid))
	require.NoError(t, err)
	for _, l := range links {
		if to, err := os.Readlink(l); err == nil {
			sockets[strings.TrimSuffix(strings.TrimPrefix(to, "socket:["), "]")] = true
		}
	}
	table, err := os.ReadFile(fmt.Sprintf("/proc/%d/net/tcp", pid))
	require.NoError(t, err)
	for line := range strings.Lines(string(table)) {
		f := strings.Fields(line)
		if len(f) > 9 && f[3] == "0A" && sockets[f[9]] {
			var port int
			fmt.Sscanf(f[1][strings.Index(f[1], ":")+1:], "%X", &port)
			list = append(list, fmt.Sprintf("127.0.0.1:%d", port))
		}
	}
	return list
}
