package api

import (
	"context"
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strings"
)

// Proxies are the reverse proxies whose word is taken on where a request came from, by network.
type Proxies []netip.Prefix

// ParseProxies reads networks or single addresses, separated by commas.
func ParseProxies(text string) (Proxies, error) {
	var proxies Proxies
	for _, part := range strings.Split(text, ",") {
		part = strings.TrimSpace(part)
		if part == "" {
			continue
		}
		network, err := netip.ParsePrefix(part)
		if err != nil {
			one, err := netip.ParseAddr(part)
			if err != nil {
				return nil, err
			}
			network = netip.PrefixFrom(one, one.BitLen())
		}
		proxies = append(proxies, network)
	}
	return proxies, nil
}

func (p Proxies) trust(address string) bool {
	at, err := netip.ParseAddr(address)
	return err == nil && slices.ContainsFunc(p, func(network netip.Prefix) bool { return network.Contains(at.Unmap()) })
}

// origin is where a request came from and how: the address of whoever asks, and whether their line is encrypted.
type origin struct {
	address string
	secure  bool
	proxied bool // a trusted proxy passed it on
}

type originKey struct{}

// cameFrom is a request's origin.
func cameFrom(ctx context.Context) origin { o, _ := ctx.Value(originKey{}).(origin); return o }

// origin works out where a request came from. What a request says of itself counts only when a trusted proxy passed
// it on: the address is then the last one that is no trusted proxy.
func (p Proxies) origin(r *http.Request) origin {
	peer, _, err := net.SplitHostPort(r.RemoteAddr)
	if err != nil {
		peer = r.RemoteAddr
	}
	o := origin{address: peer, secure: r.TLS != nil}
	if !p.trust(peer) {
		return o
	}
	o.proxied = true
	o.secure = o.secure || strings.EqualFold(r.Header.Get("X-Forwarded-Proto"), "https")
	hops := strings.Split(strings.Join(r.Header.Values("X-Forwarded-For"), ","), ",")
	for _, hop := range slices.Backward(hops) {
		at, err := netip.ParseAddr(strings.TrimSpace(hop))
		if err != nil {
			return o
		}
		o.address = at.Unmap().String()
		if !p.trust(o.address) {
			return o
		}
	}
	return o
}

// located notes where each request came from.
func (p Proxies) located(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), originKey{}, p.origin(r))))
	})
}
