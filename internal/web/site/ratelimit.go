package site

import (
	"net"
	"net/netip"
	"sync"
	"time"
)

// Rate limits of signing in: some tries are free, then each wrong one doubles the wait. Each
// address waits for itself; all strangers together wait a little, so that many addresses gain
// nothing. An address that signed in before is no stranger: it waits for its own wrong tries only, so
// that no number of strangers locks the gardener out.
const (
	freeTries    = 4
	longestWait  = 15 * time.Minute
	freeInAll    = 20
	longestInAll = 8 * time.Second
	triesForgot  = time.Hour
	mostAsking   = 10_000
	mostKnown    = 1000
)

// wrong counts wrong tries, with the time of the last.
type wrong struct {
	n    int
	last time.Time
}

// wait returns how long the next try must wait.
func (w wrong) wait(now time.Time, free int, longest time.Duration) time.Duration {
	if w.n < free || now.Sub(w.last) >= triesForgot {
		return 0
	}
	must := longest
	if past := w.n - free; past < 20 {
		must = min(longest, time.Second<<past)
	}
	return max(0, must-now.Sub(w.last))
}

// rateLimit counts wrong passphrases by address and in total.
type rateLimit struct {
	mu    sync.Mutex
	by    map[string]wrong
	inAll wrong
	// known are the addresses that signed in.
	known map[string]bool
}

func newTries() *rateLimit { return &rateLimit{by: map[string]wrong{}, known: map[string]bool{}} }

// Know marks an address as one that signed in.
func (t *rateLimit) Know(who string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	t.know(who)
}

func (t *rateLimit) know(who string) {
	if len(t.known) >= mostKnown {
		clear(t.known)
	}
	t.known[who] = true
}

// Take counts a try and gives 0 when it may be made, else how long to wait; a
// right one is given back. Counting first keeps many at once from slipping
// through.
func (t *rateLimit) Take(who string, now time.Time) time.Duration {
	t.mu.Lock()
	defer t.mu.Unlock()
	mine, known := t.by[who], t.known[who]
	wait := mine.wait(now, freeTries, longestWait)
	if !known {
		wait = max(wait, t.inAll.wait(now, freeInAll, longestInAll))
	}
	if wait > 0 {
		return wait
	}
	if len(t.by) >= mostAsking {
		for k, w := range t.by {
			if now.Sub(w.last) >= longestWait {
				delete(t.by, k)
			}
		}
		if len(t.by) >= mostAsking {
			clear(t.by) // those in all still wait
		}
	}
	t.by[who] = mine.more(now)
	if !known {
		t.inAll = t.inAll.more(now)
	}
	return 0
}

func (w wrong) more(now time.Time) wrong {
	if now.Sub(w.last) >= triesForgot {
		w.n = 0
	}
	return wrong{w.n + 1, now}
}

// Forget gives a right try back; its address is known from then on.
func (t *rateLimit) Forget(who string) {
	t.mu.Lock()
	defer t.mu.Unlock()
	delete(t.by, who)
	if !t.known[who] {
		t.inAll.n = max(0, t.inAll.n-1)
	}
	t.know(who)
}

// AskerOf identifies whom a request comes from: the IPv4 address, or the /64 network of an IPv6 one.
func AskerOf(remote string) string {
	host, _, err := net.SplitHostPort(remote)
	if err != nil {
		return remote
	}
	at, err := netip.ParseAddr(host)
	if err != nil {
		return host
	}
	if at = at.Unmap(); at.Is6() {
		if p, err := at.WithZone("").Prefix(64); err == nil {
			return p.String()
		}
	}
	return at.String()
}
