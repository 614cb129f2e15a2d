package e2e

import (
	"net"
	"net/http"
	"sync/atomic"

	"idletimber/server"
)

// switchable is a server that can go away and come back.
type switchable struct {
	next atomic.Pointer[server.Server]
	gone atomic.Bool
	wire atomic.Int64 // bytes that went out of it, heads and all
}

// counted is a listener whose connections count what is written to them.
type counted struct {
	net.Listener
	wire *atomic.Int64
}

func (l counted) Accept() (net.Conn, error) {
	c, err := l.Listener.Accept()
	return countedConn{c, l.wire}, err
}

type countedConn struct {
	net.Conn
	wire *atomic.Int64
}

func (c countedConn) Write(p []byte) (int, error) {
	n, err := c.Conn.Write(p)
	c.wire.Add(int64(n))
	return n, err
}

func (s *switchable) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if s.gone.Load() {
		panic(http.ErrAbortHandler) // the connection breaks, as when the server is stopped
	}
	s.next.Load().ServeHTTP(w, r)
}
