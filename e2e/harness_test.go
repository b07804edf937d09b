// Package e2e drives the built application in a real browser, on a real PostgreSQL.
package e2e

import (
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"log/slog"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/launcher"
	"github.com/go-rod/rod/lib/launcher/flags"
	"github.com/go-rod/rod/lib/proto"
	"github.com/go-rod/rod/lib/utils"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/demo"
	"uskel/demo/demotest"
	"uskel/devices"
	"uskel/store"
	"uskel/ui"
)

// morning is when the tests' shop stands.
var morning = demotest.Morning

// clock is a clock that a test can move.
type clock struct {
	mu    sync.Mutex
	start time.Time
	real  time.Time
}

func (c *clock) now() time.Time {
	c.mu.Lock()
	defer c.mu.Unlock()
	return c.start.Add(time.Since(c.real)).UTC().Truncate(time.Microsecond)
}

func (c *clock) forward(d time.Duration) {
	c.mu.Lock()
	defer c.mu.Unlock()
	c.start = c.start.Add(d)
}

// shop is a running application with the demo in it.
type shop struct {
	t     testing.TB
	url   string
	store *store.Store
	clock *clock
}

// open serves a shop of the test's own, beside those of other tests.
func open(t *testing.T) *shop { t.Helper(); t.Parallel(); return openAt(t, demotest.URL(t)) }

// openAt serves the shop that lives in a database.
func openAt(t testing.TB, database string, change ...func(*api.Config)) *shop {
	t.Helper()
	_, err := fs.Stat(ui.Dist(), "index.html")
	require.NoError(t, err, "the front end is not built: run the tests with ./run test")
	s, err := store.Open(context.Background(), database)
	require.NoError(t, err)
	t.Cleanup(s.Close)
	c := &clock{start: morning, real: time.Now()}
	ends, end := context.WithCancel(context.Background())
	config := api.Config{
		Store:   s,
		Station: devices.Station{Seed: demo.Seed},
		Meter:   devices.Meter{Seed: demo.Seed},
		Outbox:  devices.Tray{},
		Demo:    true,
		Now:     c.now,
		Log:     slog.New(slog.DiscardHandler),
		Dist:    ui.Dist(),
		Ends:    ends,
	}
	for _, change := range change {
		change(&config)
	}
	server := httptest.NewServer(api.New(config))
	t.Cleanup(server.Close)
	t.Cleanup(end) // streams end first
	return &shop{t, server.URL, s, c}
}

// TestMain lets no browser outlive the tests.
func TestMain(m *testing.M) {
	code := m.Run()
	if browser != nil {
		browser.Kill()
		browser.Cleanup()
	}
	os.Exit(code)
}

// browser is the one that all tests share, once one has asked for it.
var browser *launcher.Launcher

var chromium = sync.OnceValues(func() (string, error) {
	bin, err := exec.LookPath("chromium")
	if err != nil {
		return "", err
	}
	dir, err := os.MkdirTemp("", "uskel-chromium-")
	if err != nil {
		return "", err
	}
	l := launcher.New().Bin(bin).Leakless(false).Headless(true).NoSandbox(true).UserDataDir(dir)
	for _, flag := range []string{"disable-gpu", "disable-quic", "no-first-run", "disable-background-networking",
		"disable-component-update", "disable-sync", "hide-scrollbars"} {
		l = l.Set(flags.Flag(flag))
	}
	browser = l
	return l.Set("force-device-scale-factor", "1").Launch()
})

type view struct{ width, height int }

var (
	desk  = view{1280, 800}
	phone = view{390, 844}
)

// patience is how long a page may take to show something: long, for a machine that does much else. Nothing is timed
// by it.
const patience = 60 * time.Second

// tab is a page of its own, with its own cookies, that remembers what went wrong in it.
type tab struct {
	*rod.Page
	apart   *rod.Browser // its context
	t       testing.TB
	url     string
	mu      sync.Mutex
	console []string
}

// as opens the shop in a fresh browser context in which somebody is signed in.
func (s *shop) as(name string, v view) *tab {
	s.t.Helper()
	b := s.tab(v)
	if !demotest.SignedIn(s.store, name) {
		b.signIn(name)
		return b
	}
	cookie := demotest.Cookie(name)
	require.NoError(s.t, b.SetCookies([]*proto.NetworkCookieParam{{Name: cookie.Name, Value: cookie.Value, URL: s.url, HTTPOnly: true,
		SameSite: proto.NetworkCookieSameSiteStrict}}))
	b.visit("/")
	b.see("nav", "Yard")
	return b
}

func (b *tab) signIn(name string) {
	b.t.Helper()
	b.visit("/")
	b.fill("Name", name)
	b.fill("Password", demo.Password)
	b.click("button", "Sign in")
	b.see("nav", "Yard")
}

func (s *shop) tab(v view) *tab {
	s.t.Helper()
	address, err := chromium()
	require.NoError(s.t, err, "these tests need Debian's chromium: run them with ./run test")
	browser := rod.New().ControlURL(address)
	require.NoError(s.t, browser.Connect())
	apart, err := browser.Incognito()
	require.NoError(s.t, err)
	page, err := apart.Page(proto.TargetCreateTarget{URL: "about:blank"})
	require.NoError(s.t, err)
	page = page.Sleeper(func() utils.Sleeper { return utils.BackoffSleeper(15*time.Millisecond, 120*time.Millisecond, nil) })
	b := &tab{Page: page.Timeout(150 * time.Second), apart: apart, t: s.t, url: s.url}
	require.NoError(
		s.t,
		page.SetViewport(
			&proto.EmulationSetDeviceMetricsOverride{
				Width:             v.width,
				Height:            v.height,
				DeviceScaleFactor: 1,
				Mobile:            v.width < 500,
			},
		),
	)
	go page.EachEvent(func(e *proto.RuntimeConsoleAPICalled) {
		if e.Type == proto.RuntimeConsoleAPICalledTypeError || e.Type == proto.RuntimeConsoleAPICalledTypeWarning {
			b.complain(fmt.Sprint(e.Args[0].Value, e.Args[0].Description))
		}
	}, func(e *proto.RuntimeExceptionThrown) { b.complain(e.ExceptionDetails.Text) },
		func(e *proto.LogEntryAdded) {
			if e.Entry.Level == proto.LogLogEntryLevelError {
				b.complain(e.Entry.Text + " " + e.Entry.URL)
			}
		})()
	require.NoError(s.t, proto.LogEnable{}.Call(page))
	s.t.Cleanup(func() {
		_ = page.Close()
		_ = apart.Close()
	})
	return b
}

func (b *tab) complain(text string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.console = append(b.console, text)
}

// quiet fails when the console held an error. The one refusal before signing in is expected.
func (b *tab) quiet() {
	b.t.Helper()
	b.mu.Lock()
	defer b.mu.Unlock()
	for _, line := range b.console {
		if strings.Contains(line, "401") && strings.Contains(line, "/api/session") {
			continue
		}
		b.t.Errorf("console: %s", line)
	}
}

// forgive takes back console lines about a refusal that the test has provoked.
func (b *tab) forgive(what string) {
	b.t.Helper()
	b.settle()
	b.mu.Lock()
	defer b.mu.Unlock()
	b.console = slices.DeleteFunc(b.console, func(line string) bool { return strings.Contains(line, what) })
}

func (b *tab) visit(path string) {
	b.t.Helper()
	require.NoError(b.t, b.Navigate(b.url+path))
	require.NoError(b.t, b.WaitLoad())
}

// goes opens a page of the application that is open, as a link in it does: nothing is loaded anew.
func (b *tab) goes(path string) {
	b.t.Helper()
	_, err := b.Eval(`(path) => { history.pushState({}, "", path); dispatchEvent(new PopStateEvent("popstate", { state: {} })); }`, path)
	require.NoError(b.t, err)
}

// see waits for an element whose text matches.
func (b *tab) see(selector, text string) *rod.Element {
	b.t.Helper()
	text = strings.ReplaceAll(text, ".*", `[\s\S]*`) // what is seen may run over several lines
	e, err := b.Page.Timeout(patience).ElementR(selector, text)
	if err != nil {
		b.keep("failure")
		require.NoError(b.t, err, "%s with %q on %s", selector, text, b.path())
	}
	return e.CancelTimeout()
}

// pass lets time go by for the shop and for the tabs, which learn the shop's clock anew.
func (s *shop) pass(d time.Duration, tabs ...*tab) {
	s.t.Helper()
	s.clock.forward(d)
	for _, b := range tabs {
		b.run(`() => new Promise((done) => {
			const seen = new PerformanceObserver((list) => {
				if (list.getEntries().some((e) => e.name.endsWith("/api/health"))) setTimeout(done, 30);
			});
			seen.observe({ type: "resource" });
			setTimeout(done, 2000);
			window.dispatchEvent(new Event("online"));
		})`)
	}
}

// run runs a function in the page and waits for what it promises.
func (b *tab) run(script string) *proto.RuntimeRemoteObject {
	b.t.Helper()
	got, err := b.Page.Timeout(patience).Evaluate(rod.Eval(script).ByPromise())
	require.NoError(b.t, err)
	return got
}

func (b *tab) path() string {
	info, err := b.Info()
	if err != nil {
		return err.Error()
	}
	return strings.TrimPrefix(info.URL, b.url)
}

func (b *tab) click(selector, text string) {
	b.t.Helper()
	b.retried(func() error { return tapped(b.see(selector, text)) }, "%s with %q", selector, text)
}

// tapped clicks an element once it can be; one that the page has drawn anew never can, so it waits only a while. The
// click itself is not given up half done: tried again it would count twice.
func tapped(e *rod.Element) error {
	while := e.Timeout(5 * time.Second)
	defer while.CancelTimeout()
	if err := errors.Join(while.WaitEnabled(), while.ScrollIntoView()); err != nil {
		return err
	}
	if _, err := while.Interactable(); err != nil { // under a bar that stays at the edge: one scrolls it away from there
		if _, err := while.Eval(`() => this.scrollIntoView({ block: "center" })`); err != nil {
			return err
		}
	}
	at, err := while.WaitInteractable()
	if err != nil {
		return err
	}
	mouse := e.Page().Mouse
	return errors.Join(mouse.MoveTo(*at), mouse.Click(proto.InputMouseButtonLeft, 1))
}

// retried does something again when the page has drawn its element anew meanwhile.
func (b *tab) retried(do func() error, format string, args ...any) {
	b.t.Helper()
	var err error
	for range 4 {
		if err = do(); err == nil {
			return
		}
		b.t.Logf("again: %v: %s", err, fmt.Sprintf(format, args...))
	}
	b.keep("failure")
	require.NoError(b.t, err, fmt.Sprintf(format, args...))
}

// labelled finds the field under a label.
func (b *tab) labelled(label string) *rod.Element {
	b.t.Helper()
	e, err := b.Page.Timeout(patience).
		ElementX(fmt.Sprintf(`//label[span[normalize-space()=%q]]//*[self::input or self::select or self::textarea]`+
			`|//*[self::input or self::select][@aria-label=%q]`, label, label))
	if err != nil {
		b.keep("failure")
		require.NoError(b.t, err, "field %q on %s", label, b.path())
	}
	return e.CancelTimeout()
}

func (b *tab) fill(label, text string) {
	b.t.Helper()
	e := b.labelled(label)
	require.NoError(b.t, e.SelectAllText())
	require.NoError(b.t, e.Input(text))
}

func (b *tab) choose(label, option string) {
	b.t.Helper()
	require.NoError(b.t, b.labelled(label).Select([]string{option}, true, rod.SelectorTypeText))
}

// zone taps a zone of the unfolded car.
func (b *tab) zone(zone string) {
	b.t.Helper()
	e, err := b.Page.Timeout(patience).Element(fmt.Sprintf(`[data-zone=%q]`, zone))
	require.NoError(b.t, err)
	_, err = e.CancelTimeout().Eval(`() => this.dispatchEvent(new MouseEvent("click", {bubbles: true}))`)
	require.NoError(b.t, err)
}

// text is everything the page says.
func (b *tab) text() string {
	b.t.Helper()
	e, err := b.Element("body")
	require.NoError(b.t, err)
	text, err := e.Text()
	require.NoError(b.t, err)
	return text
}

// settle waits until nothing is being fetched.
func (b *tab) settle() {
	b.t.Helper()
	b.run(`() => new Promise((done) => {
		let still = 0;
		const look = () => {
			const moves = document.getAnimations().some((a) => a.playState === "running" && isFinite(a.effect.getComputedTiming().endTime));
			still = moves || document.documentElement.hasAttribute("data-coming") ? 0 : still + 1;
			if (still > 8) done(); else requestAnimationFrame(look);
		};
		look();
	})`)
}

// keep writes a picture beside the test's other output, for looking at.
func (b *tab) keep(name string) {
	dir := os.Getenv("USKEL_PICTURES")
	if dir == "" {
		return
	}
	b.picture(filepath.Join(dir, name+".png"))
}

func (b *tab) picture(path string) {
	shot, err := b.Page.Timeout(20*time.Second).
		Screenshot(false, &proto.PageCaptureScreenshot{Format: proto.PageCaptureScreenshotFormatPng})
	require.NoError(b.t, err)
	require.NoError(b.t, os.WriteFile(path, shot, 0o644))
}

// focus puts the keyboard on an element.
func (b *tab) focus(selector string) *rod.Element {
	b.t.Helper()
	e, err := b.Page.Timeout(patience).Element(selector)
	require.NoError(b.t, err, selector)
	e = e.CancelTimeout()
	_, err = e.Eval(`() => this.focus()`)
	require.NoError(b.t, err)
	return e
}

// row clicks what a row of the yard offers.
func (b *tab) row(vehicle, offer string) {
	b.t.Helper()
	b.within("tr", vehicle, "a, button", offer)
}

// within clicks something inside the element that holds a text.
func (b *tab) within(outer, holds, selector, text string) {
	b.t.Helper()
	b.retried(func() error {
		e, err := b.see(outer, holds).ElementR(selector, text)
		if err != nil {
			return err
		}
		return tapped(e)
	}, "%s with %q in %s with %q", selector, text, outer, holds)
}

// has reports whether something is on the page now.
func (b *tab) has(selector, text string) bool {
	b.t.Helper()
	found, _, err := b.HasR(selector, text)
	require.NoError(b.t, err)
	return found
}

// gone waits until a text is no longer on the page. A text of two lines is one pattern: where the lines meet there may be
// anything that is no letter.
func (b *tab) gone(selector, text string) {
	b.t.Helper()
	b.goneNow(selector, strings.ReplaceAll(regexp.QuoteMeta(text), "\n", `\s*`))
}

// goneNow waits, longer than a poll takes, until something that matches is no longer on the page.
func (b *tab) goneNow(selector, text string) {
	b.t.Helper()
	require.Eventually(
		b.t,
		func() bool { return !b.has(selector, text) },
		30*time.Second,
		100*time.Millisecond,
		"%s with %q stays",
		selector,
		text,
	)
}

func (b *tab) heading() string {
	b.t.Helper()
	text, err := b.see("h1", ".").Text()
	require.NoError(b.t, err)
	return text
}

func (b *tab) all(selector string) rod.Elements {
	b.t.Helper()
	found, err := b.Elements(selector)
	require.NoError(b.t, err)
	return found
}

// grade waits until a zone of the unfolded car is read out with a grade.
func (b *tab) grade(zone, grade string) {
	b.t.Helper()
	selector := fmt.Sprintf(`[data-zone=%q][aria-label$="grade %s"]`, zone, grade)
	_, err := b.Page.Timeout(patience).Element(selector)
	if err != nil {
		b.keep("failure")
	}
	require.NoError(b.t, err, selector)
}

// paste puts lines into a field as if from the clipboard.
func (b *tab) paste(label, text string) {
	b.t.Helper()
	_, err := b.labelled(label).
		Eval(`(text) => { const d = new DataTransfer(); d.setData("text/plain", text); d.setData("text", text);
		this.focus(); this.dispatchEvent(new ClipboardEvent("paste", { clipboardData: d, bubbles: true, cancelable: true })); }`, text)
	require.NoError(b.t, err)
}

// entry fills in one of a procedure's entries: a fact, its answer, and what is said otherwise.
func (b *tab) entry(i int, fact, answer, refusal string) {
	b.t.Helper()
	nth := func(selector string) *rod.Element {
		found := b.all(selector)
		require.Greater(b.t, len(found), i, selector)
		return found[i]
	}
	require.NoError(
		b.t,
		nth(
			"fieldset:has(> legend:first-child) select[aria-label=Fact]",
		).Select([]string{fact}, true, rod.SelectorTypeText),
	)
	b.settle()
	require.NoError(
		b.t,
		nth(
			"select[aria-label=Answer], input[aria-label=Number]",
		).Select([]string{answer}, true, rod.SelectorTypeText),
	)
	field, err := b.ElementX(fmt.Sprintf(`(//label[span[normalize-space()="Otherwise say"]]//input)[%d]`, i+1))
	require.NoError(b.t, err)
	require.NoError(b.t, field.SelectAllText())
	require.NoError(b.t, field.Input(refusal))
}

// amid scrolls an element to the middle of the window, so that there is room to pull it about.
func (b *tab) amid(e *rod.Element) {
	b.t.Helper()
	_, err := e.Eval(`() => this.scrollIntoView({ block: "center" })`)
	require.NoError(b.t, err)
}

// drag pulls one element onto another with the pointer, and lets go once the page says what it is over.
func (b *tab) drag(from, to *rod.Element, over string) {
	b.t.Helper()
	middle := func(e *rod.Element) proto.Point {
		shape, err := e.Shape()
		require.NoError(b.t, err)
		return *shape.OnePointInside()
	}
	b.amid(from)
	start, end := middle(from), middle(to)
	require.NoError(b.t, b.Mouse.MoveTo(start))
	require.NoError(b.t, b.Mouse.Down(proto.InputMouseButtonLeft, 1))
	for i := 1; i <= 12; i++ {
		f := float64(i) / 12
		require.NoError(
			b.t,
			b.Mouse.MoveTo(proto.Point{X: start.X + (end.X-start.X)*f, Y: start.Y + (end.Y-2-start.Y)*f}),
		)
		time.Sleep(15 * time.Millisecond)
	}
	b.see("[id^=DndLiveRegion]", "over droppable area "+over)
	require.NoError(b.t, b.Mouse.Up(proto.InputMouseButtonLeft, 1))
}

// one finds an element by selector alone.
func (b *tab) one(selector string) *rod.Element {
	b.t.Helper()
	e, err := b.Page.Timeout(patience).Element(selector)
	require.NoError(b.t, err, selector)
	return e.CancelTimeout()
}

// press clicks an element found by selector alone.
func (b *tab) press(selector string) {
	b.t.Helper()
	e := b.one(selector)
	require.NoError(b.t, e.WaitEnabled())
	require.NoError(b.t, e.Click(proto.InputMouseButtonLeft, 1), selector)
}

// pdf prints the page on a paper, inches, after a script has run on it.
func (b *tab) pdf(paper [2]float64, script string) []byte {
	b.t.Helper()
	if script != "" {
		_, err := b.Eval("() => { " + script + " }")
		require.NoError(b.t, err)
	}
	stream, err := b.PDF(&proto.PagePrintToPDF{PaperWidth: &paper[0], PaperHeight: &paper[1], PrintBackground: true})
	require.NoError(b.t, err)
	data, err := io.ReadAll(stream)
	require.NoError(b.t, err)
	return data
}

var pageObject = regexp.MustCompile(`/Type\s*/Page[^s]`)

// pages counts the pages of a PDF as Chromium writes it.
func pages(pdf []byte) int { return len(pageObject.FindAll(pdf, -1)) }
