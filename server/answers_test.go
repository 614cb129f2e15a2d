package server

import (
	"bytes"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Clients that ask and do not read hold so much and no more, for so long and no
// longer.
func TestSlowReadersAreBounded(t *testing.T) {
	large := bytes.Repeat([]byte("idle timber "), 4<<20/12)
	a, err := newAnswers(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "application/json")
		w.Write(large)
	}), &Server{Config: Config{Log: slog.New(slog.DiscardHandler)}})
	require.NoError(t, err)
	a.writeTime = 3 * time.Second
	web := httptest.NewServer(a)
	defer web.Close()
	address := strings.TrimPrefix(web.URL, "http://")
	for range 120 {
		c, err := net.Dial("tcp", address)
		require.NoError(t, err)
		defer c.Close()
		fmt.Fprintf(c, "GET /api/x HTTP/1.1\r\nHost: x\r\n\r\n")
	}
	most := int64(0)
	require.Eventually(t, func() bool {
		now := a.server.held.Load()
		most = max(most, now)
		return most > mostHeld/2 && now == 0 // all were cut
	}, 20*time.Second, 5*time.Millisecond)
	assert.LessOrEqual(t, most, int64(mostHeld)+int64(len(large))*4, "those that are refused are counted for a moment")

	res, err := http.Get(web.URL + "/api/x")
	require.NoError(t, err)
	defer res.Body.Close()
	got, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.Equal(t, large, got, "who reads is answered")
}
