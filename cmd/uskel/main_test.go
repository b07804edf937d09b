package main

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"net"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/api"
	"uskel/core/schedule"
	"uskel/core/shop"
	"uskel/demo"
	"uskel/store"
	"uskel/store/storetest"
)

var ctx = context.Background()

func said(t *testing.T, in string, args ...string) (string, error) {
	t.Helper()
	var out bytes.Buffer
	err := run(ctx, args, strings.NewReader(in), &out)
	return out.String(), err
}

func TestCommandsThatAreNotThereFail(t *testing.T) {
	t.Setenv("DATABASE_URL", "")
	for words, says := range map[string]string{
		"":               "use serve",
		"dance":          `no command "dance"`,
		"serve now":      `serve does not take "now"`,
		"demo --frehs":   `demo does not take "--frehs"`,
		"migrate":        "DATABASE_URL is not set",
		"migrate --help": "does not take",
	} {
		_, err := said(t, "", strings.Fields(words)...)
		assert.ErrorContains(t, err, says, words)
	}
}

func TestWhatNeedsNoDatabase(t *testing.T) {
	t.Setenv("DATABASE_URL", "")
	text, err := said(t, "", "openapi")
	require.NoError(t, err)
	var described struct{ OpenAPI string }
	require.NoError(t, json.Unmarshal([]byte(text), &described))
	assert.Equal(t, "3.1.0", described.OpenAPI)
	text, err = said(t, "", "schema")
	require.NoError(t, err)
	assert.True(t, json.Valid([]byte(text)))
	text, err = said(t, "", "sign-ins")
	require.NoError(t, err)
	assert.Contains(t, text, "maren")
	text, err = said(t, `{"people":[{"name":"ann"}],"machines":[],"work":[{"id":"a","seconds":60}]}`, "schedule")
	require.NoError(t, err)
	var line schedule.Timeline
	require.NoError(t, json.Unmarshal([]byte(text), &line))
	assert.EqualValues(t, 60, line.Finish)
	_, err = said(t, `{"crew":[]}`, "schedule")
	assert.ErrorContains(t, err, "crew")
}

// The demo is put into an empty database or its own. A real shop is neither wiped nor given a lead with a published
// password.
func TestTheDemoSparesARealShop(t *testing.T) {
	url := storetest.URL(t, "empty", nil)
	t.Setenv("DATABASE_URL", url)
	s, err := store.Open(ctx, url)
	require.NoError(t, err)
	defer s.Close()
	theirs := store.Person{
		ID:           store.NewID(),
		Name:         "Somebody",
		SignIn:       "somebody",
		Role:         shop.Lead,
		PasswordHash: "x",
		Active:       true,
		Version:      1,
	}
	require.NoError(t, s.AddPerson(ctx, theirs))
	for _, words := range [][]string{{"demo"}, {"demo", "--fresh"}} {
		_, err = said(t, "", words...)
		assert.ErrorIs(t, err, errRealShop, "%v", words)
	}
	people, err := s.People(ctx)
	require.NoError(t, err)
	assert.Equal(t, []store.Person{theirs}, people)
	c := api.Config{}
	require.NoError(t, instruments(ctx, s, &c))
	assert.Equal(t, []string{demo.Password}, c.Refused, "nobody signs in there with the demo's password")
}

// A demo is a demo: marked when it is loaded, and known when it was loaded before there were marks.
func TestTheDemoKnowsItsOwn(t *testing.T) {
	url := storetest.URL(t, "demo of three days", func(s *store.Store) error {
		return demo.Load(ctx, s, time.Date(2026, 4, 14, 12, 0, 0, 0, time.UTC), 3)
	})
	t.Setenv("DATABASE_URL", url)
	s, err := store.Open(ctx, url)
	require.NoError(t, err)
	defer s.Close()
	marked, err := s.IsDemo(ctx)
	require.NoError(t, err)
	require.False(t, marked, "it was loaded as it was before there were marks")
	_, err = said(t, "", "demo")
	require.NoError(t, err)
	marked, err = s.IsDemo(ctx)
	require.NoError(t, err)
	assert.True(t, marked)
	c := api.Config{}
	require.NoError(t, instruments(ctx, s, &c))
	assert.Empty(t, c.Refused)
	assert.True(t, c.Demo)
}

// Told to stop, the server answers what it was asked before, and takes nothing new.
func TestAServerThatStopsFinishesWhatItBegan(t *testing.T) {
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	begun, goOn := make(chan struct{}), make(chan struct{})
	server := &http.Server{Handler: http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		close(begun)
		<-goOn
		_, _ = io.WriteString(w, "done")
	})}
	stopping, stop := context.WithCancel(ctx)
	ended := make(chan error, 1)
	go func() { ended <- untilDrained(stopping, server, listener) }()
	answer := make(chan string, 1)
	go func() {
		got, err := http.Get("http://" + listener.Addr().String())
		if err != nil {
			answer <- err.Error()
			return
		}
		defer got.Body.Close()
		text, _ := io.ReadAll(got.Body)
		answer <- string(text)
	}()
	<-begun
	stop()
	require.Eventually(t, func() bool { // the door is closed
		conn, err := net.Dial("tcp", listener.Addr().String())
		if err == nil {
			_ = conn.Close()
		}
		return err != nil
	}, 10*time.Second, time.Millisecond)
	select {
	case err := <-ended:
		require.FailNow(t, fmt.Sprintf("it ended with a request under way: %v", err))
	default:
	}
	close(goOn)
	assert.Equal(t, "done", <-answer)
	assert.NoError(t, <-ended)
}

func TestMetricsStayOnTheMachine(t *testing.T) {
	assert.ErrorContains(t, serveMeters(ctx, "0.0.0.0:0", nil, nil), "loopback")
	assert.ErrorContains(t, serveMeters(ctx, "everywhere", nil, nil), "loopback")
	_, err := logger("yaml")
	assert.ErrorContains(t, err, "text or json")
}
