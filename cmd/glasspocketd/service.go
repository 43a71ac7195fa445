package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/netip"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/gofiber/fiber/v3"
	"golang.org/x/net/publicsuffix"

	"glasspocket/console"
	"glasspocket/hosts"
	"glasspocket/internal/app"
	"glasspocket/internal/bundle"
	"glasspocket/internal/fetch"
	"glasspocket/internal/heap"
	"glasspocket/internal/manage"
	"glasspocket/internal/meter"
	"glasspocket/internal/processors"
	"glasspocket/internal/public"
	"glasspocket/internal/render"
	"glasspocket/internal/shelf"
	"glasspocket/internal/signal"
	"glasspocket/internal/store"
	"glasspocket/internal/vault"
)

// config has all configuration.
type config struct {
	data            string
	publicAddr      string
	manageAddr      string
	publicURL       string // "" for http:// and the listener's address
	manageURL       string
	trusted         string // -trusted-proxies as given
	logFormat       string
	debug           bool
	proxies         []netip.Prefix // networks whose X-Forwarded-For is trusted
	drain           time.Duration  // between being unready and stopping
	sameSite        bool           // public and manage address may be on the same site
	connections     int            // open at once, per listener
	connectionsEach int            // of these, for one network; 0 for no limit
	now             func() time.Time
	log             *slog.Logger
	reportTo        string        // for visitors' reports: mailto: or a web address
	fetchAllow      string        // private addresses from which pages may be fetched
	directories     string        // OpenSearch descriptions
	open            bool          // the gallery is open to guests
	keeps           time.Duration // lifetime of guest pockets
}

// service is a running service.
type service struct {
	app       *app.App
	publicURL string
	manageURL string
	close     func() error
	failed    chan error // receives the error of a listener that stops by itself
}

// start connects the parts of the service and starts its listeners.
func start(ctx context.Context, c config) (s *service, err error) {
	var undo []func() error
	defer func() {
		if err != nil {
			for i := len(undo) - 1; i >= 0; i-- {
				undo[i]()
			}
		}
	}()
	heap.Room()
	processors.Oversubscribe()
	publicListener, err := listen(c.publicAddr, "-public-addr")
	if err != nil {
		return nil, err
	}
	undo = append(undo, publicListener.Close)
	manageListener, err := listen(c.manageAddr, "-manage-addr")
	if err != nil {
		return nil, err
	}
	// Only for the listener with large bodies, because wrapped connections cost a fast response a
	// third of its speed.
	manageListener = patient{manageListener}
	undo = append(undo, manageListener.Close)
	db, err := store.Open(ctx, c.data)
	if err != nil {
		return nil, err
	}
	undo = append(undo, db.Close)

	s = &service{failed: make(chan error, 2)}
	if s.publicURL, err = publicBase(ctx, db, c.publicURL, publicListener.Addr()); err != nil {
		return nil, err
	}
	s.manageURL = address(c.manageURL, manageListener.Addr())
	if err := apart(s.publicURL, s.manageURL, c.sameSite); err != nil {
		return nil, err
	}
	loader, err := bundle.Loader(s.publicURL)
	if err != nil {
		return nil, err
	}
	shell, err := bundle.Preview(s.publicURL)
	if err != nil {
		return nil, err
	}
	gallery, err := bundle.Gallery(s.publicURL)
	if err != nil {
		return nil, err
	}
	worktop, err := bundle.Worktop(s.publicURL)
	if err != nil {
		return nil, err
	}
	later := map[string]string{}
	for _, name := range bundle.Later {
		if later[name], err = bundle.Module(name, s.publicURL); err != nil {
			return nil, err
		}
	}
	beside := map[string]string{}
	for _, name := range bundle.Beside {
		if beside[name], err = bundle.Script(name, s.publicURL); err != nil {
			return nil, err
		}
	}
	sealed, err := bundle.SealedLoader(s.publicURL)
	if err != nil {
		return nil, err
	}
	if u, err := url.Parse(c.reportTo); c.reportTo != "" && (err != nil || u.Scheme != "mailto" && u.Scheme != "https" && u.Scheme != "http" || u.Opaque == "" && u.Host == "") {
		return nil, fmt.Errorf("-report-to %q is not an address such as mailto:abuse@example.org or https://example.org/report", c.reportTo)
	}
	allowed, err := fetch.ReadAllowed(c.fetchAllow)
	if err != nil {
		return nil, fmt.Errorf("-fetch-allow: %w", err)
	}
	kinds, err := hosts.Shipped()
	if err != nil {
		return nil, err
	}
	site, err := render.NewSite(s.publicURL, loader, sealed, bundle.Kit)
	if err != nil {
		return nil, err
	}
	tables, err := app.StoreIn(ctx, db)
	if err != nil {
		return nil, err
	}
	secrets, err := vault.Open(filepath.Join(c.data, vault.File))
	if err != nil {
		return nil, err
	}
	fetcher := fetch.New(allowed)
	signals := signal.New()
	a := app.New(app.Options{Hosts: kinds, Pages: fetcher, Web: fetcher, Vault: secrets, Directories: commaSeparated(c.directories), Store: tables, Signals: signals, Site: site, Builder: bundle.Builder{}, Trier: bundle.Builder{}, Now: c.now, Open: c.open, Keeps: c.keeps,
		Notice: func(what string, about ...any) { c.log.Warn(what, about...) }})
	s.app = a
	sh := shelf.New(a.Delivery.Serve, signals, shelf.Bytes)

	counts := &meter.Meter{}
	pub := public.New(public.Options{Meter: counts, Connections: c.connections, Shelf: sh, Delivery: a.Delivery, Push: a.Sources, Proxies: c.proxies, Site: site, Shell: public.Shell{Script: shell, Worktop: worktop, Gallery: gallery}, ReportTo: c.reportTo, Console: origins(s.manageURL, manageListener.Addr()), Later: later, Beside: beside, Now: a.Now, Log: c.log})
	registry, err := metrics(counts, sh, db, a.Tasks.Counts)
	if err != nil {
		return nil, err
	}
	var stopping atomic.Bool
	ready := func(ctx context.Context) error {
		if stopping.Load() {
			return errors.New("the service is stopping")
		}
		if err := db.Ping(ctx); err != nil {
			return fmt.Errorf("the store does not answer: %w", err)
		}
		return db.Healthy(ctx)
	}
	man := manage.New(manage.Options{App: a, Connections: c.connections, Meter: counts, Metrics: func() ([]byte, error) { return exposition(registry) }, Ready: ready, Proxies: c.proxies, Console: console.Files(), Hosts: hostValues(s.manageURL, manageListener.Addr()), Secure: strings.HasPrefix(s.manageURL, "https:"), Log: c.log})
	quiet := fiber.ListenConfig{DisableStartupMessage: true}
	go func() {
		s.failed <- pub.Listener(limited(publicListener, pub.Server(), c.connectionsEach, c.proxies), quiet)
	}()
	go func() {
		s.failed <- man.Listener(limited(manageListener, man.Server(), c.connectionsEach, c.proxies), quiet)
	}()

	working, rest := context.WithCancel(context.Background())
	var work sync.WaitGroup
	work.Go(func() { a.Work.Run(working) })

	var once sync.Once
	s.close = func() (err error) {
		once.Do(func() {
			stopping.Store(true)
			time.Sleep(c.drain) // for load balancers, which ask /readyz and stop sending requests
			rest()
			work.Wait()
			err = errors.Join(man.ShutdownWithTimeout(5*time.Second), pub.ShutdownWithTimeout(5*time.Second), db.Close())
		})
		return err
	}
	return s, nil
}

// publicBase returns the address for all snippets, which is fixed at the first start.
func publicBase(ctx context.Context, db *store.DB, given string, at net.Addr) (string, error) {
	if given != "" {
		if u, err := url.Parse(given); err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" || u.RawQuery != "" || u.Fragment != "" {
			return "", fmt.Errorf("-public-url %q is not an address such as https://pockets.example", given)
		}
	}
	current := address(given, at)
	fixed, err := db.Fact(ctx, "public-url", current)
	if err != nil {
		return "", err
	}
	if given != "" && fixed != current {
		return "", fmt.Errorf("this data folder serves visitors from %s, and that address is in the snippets on their pages. Start the service with -public-url %s, or use another data folder", fixed, fixed)
	}
	if given == "" && fixed != current {
		return "", fmt.Errorf("this data folder serves visitors from %s, and that address is in the snippets on their pages, but the service would listen on %s. Use the old address with -public-addr, or, if there is a proxy, -public-url %s", fixed, at, fixed)
	}
	return fixed, nil
}

func address(given string, at net.Addr) string {
	if given != "" {
		return strings.TrimRight(given, "/")
	}
	host, port, _ := net.SplitHostPort(at.String())
	if ip := net.ParseIP(host); ip == nil || ip.IsUnspecified() {
		host = "127.0.0.1"
	}
	return "http://" + net.JoinHostPort(host, port)
}

// hostValues are the Host values that the manage listener accepts.
func hostValues(manageURL string, at net.Addr) []string {
	list := []string{}
	if u, err := url.Parse(manageURL); err == nil {
		list = append(list, strings.ToLower(u.Host))
	}
	_, port, _ := net.SplitHostPort(at.String())
	for _, h := range []string{"127.0.0.1", "localhost", "::1"} {
		list = append(list, net.JoinHostPort(h, port))
	}
	return append(list, at.String())
}

// origins are the console's origins, one for each Host value.
func origins(manageURL string, at net.Addr) (list []string) {
	scheme, _, _ := strings.Cut(manageURL, "://")
	for _, host := range hostValues(manageURL, at) {
		// A content policy cannot contain an IPv6 address.
		if origin := scheme + "://" + host; !strings.HasPrefix(host, "[") && !slices.Contains(list, origin) {
			list = append(list, origin)
		}
	}
	return list
}

func logger(debug bool, format string) (*slog.Logger, error) {
	options := &slog.HandlerOptions{Level: slog.LevelInfo}
	if debug {
		options.Level = slog.LevelDebug
	}
	switch format {
	case "", "text":
		return slog.New(slog.NewTextHandler(os.Stderr, options)), nil
	case "json":
		return slog.New(slog.NewJSONHandler(os.Stderr, options)), nil
	}
	return nil, fmt.Errorf("-log %q is not a format. Use text or json", format)
}

// apart refuses to serve customers' widgets on the console's site, because cookies and trust extend
// to all subdomains of a registrable domain.
func apart(public, manage string, allowed bool) error {
	site := func(address string) string {
		u, err := url.Parse(address)
		if err != nil || net.ParseIP(u.Hostname()) != nil || u.Hostname() == "localhost" {
			return ""
		}
		if domain, err := publicsuffix.EffectiveTLDPlusOne(u.Hostname()); err == nil {
			return domain
		}
		return u.Hostname()
	}
	if s := site(public); s != "" && s == site(manage) && !allowed {
		return fmt.Errorf("visitors at %s and the console at %s would share the site %s, so a page of one could act on the other. Use two registrable domains, or accept the risk with -same-site", public, manage, s)
	}
	return nil
}

// commaSeparated splits a list, and leaves out what is empty.
func commaSeparated(text string) (list []string) {
	for part := range strings.SplitSeq(text, ",") {
		if part = strings.TrimSpace(part); part != "" {
			list = append(list, part)
		}
	}
	return list
}
