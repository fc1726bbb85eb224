package share

import (
	"context"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/allocate"
	"zephyrfield/agronomy/material"
	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/text"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/job"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/present"
	"zephyrfield/internal/web/site"
	"zephyrfield/internal/web/svg"
	"zephyrfield/internal/web/view"
)

type shareView struct {
	view.Page
	Says string
	Flow *svg.Flow
	// Waiting is the notice that rests are not shared out.
	// Without names the beds that get nothing.
	Without string
	Waiting string
	// Rows are the plan as a table.
	Rows []shareRow
	// Next is the value of one more kilogram of each stock, Held what limits beds, Left the
	// remaining stock.
	Next, Held  []string
	Left        []shareLeft
	WithoutAsh  string
	Proved      string
	Besides     []string
	HasAnything bool
	// Button is the label of the planning button; Planned says whose applications it would replace.
	Button, Planned string
	// LeftOut are the beds whose share cannot be planned, each with the reason.
	LeftOut []string
	// Hand is the form of the gardener's changes; Job is set while the plan is computed.
	Hand handView
	Job  *view.Progress
	// Query is the request's query, for the waiting page.
	Query string
}

type shareRow struct {
	ID                                              int64
	Bed, Href, From, To, Potassium, Shortfall, Rest string
	// Given is what the bed gets, for the picture, which shows of which stock; Gets names the stock
	// where there are several of a family.
	Given, Gets string
}

type shareLeft struct{ Name, Kg string }

// shareJob is the name of the job for a large garden.
const shareJob = "share"

// sharePatience is how long the job goes on when no page asks for its progress.
const sharePatience = 20 * time.Second

// ShareOut shows the sharing of the stock.
func (s *Handler) ShareOut(c *gin.Context) error {
	return s.showShare(c, http.StatusOK, handOf(c.Request.URL.Query(), s.Units(c)))
}

// showShare computes and shows it; a large garden's is computed by a job.
func (s *Handler) showShare(c *gin.Context, status int, h hand) error {
	today, ctx := s.Clock.Today(), c.Request.Context()
	quick, beds, err := s.App(c).Dosing.Quick(ctx, h.choice, today)
	if err != nil {
		return err
	}
	if failed, ok, err := s.FindJob(c, shareJob); err == nil && ok && failed.State == job.Failed {
		quick = true // a failure of the job is reported on the page
		if err := s.Jobs.Forget(ctx, shareJob); err != nil {
			return err
		}
	}
	if !quick && len(h.faults) == 0 {
		return s.waitForShare(c, h, beds)
	}
	// Neither waiting for another search nor searching holds a view of the garden.
	s.Close(c)
	idle := func() { s.Close(c) }
	sh, err := s.App(c).Dosing.Share(ctx, h.choice, today, nil, idle)
	if h.fault(err) {
		h.choice.Hand, status = nil, http.StatusUnprocessableEntity
		sh, err = s.App(c).Dosing.Share(ctx, h.choice, today, nil, idle)
	}
	if err != nil {
		return err
	}
	if len(h.faults) > 0 {
		status = http.StatusUnprocessableEntity
	}
	v := shareView{Page: s.Page(c, sh.Garden, site.ShedTab, shareTitle(sh)), HasAnything: len(sh.Beds) > 0}
	v.besides(sh)
	if v.HasAnything {
		v.lay(sh)
		v.explain(sh)
		v.year(sh)
	}
	if v.Hand, err = s.handView(c, h, sh); err != nil {
		return err
	}
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, status, "share", v)
	return nil
}

// waitForShare starts the job and shows its progress.
func (s *Handler) waitForShare(c *gin.Context, h hand, beds int) error {
	today := s.Clock.Today()
	err := s.Jobs.StartWaited(c.Request.Context(), shareJob, beds, sharePatience, func(ctx context.Context, tell func(int)) (int64, error) {
		_, err := s.Base().Dosing.Share(ctx, h.choice, today, tell, nil)
		return 0, err
	})
	if err != nil {
		return err
	}
	g, err := s.App(c).Place(c.Request.Context())
	if err != nil {
		return err
	}
	v := shareView{Page: s.Page(c, g, site.ShedTab, "Being shared out over "+text.Count(beds, "bed", "beds")),
		Job: &view.Progress{Of: beds, Things: "beds"}, Query: c.Request.URL.RawQuery}
	if err := s.Undated(c, &v.Page); err != nil {
		return err
	}
	s.Render(c, http.StatusOK, "share", v)
	return nil
}

// ShareProgress shows the progress, and redirects when it is done.
func (s *Handler) ShareProgress(c *gin.Context) error {
	to := "/shed/share?" + c.Request.URL.RawQuery
	j, ok, err := s.FindJob(c, shareJob)
	switch {
	case err != nil:
		return err
	case ok && !j.Ended() && c.GetHeader("HX-Request") != "":
		s.RenderPart(c, "share", "progress", present.JobView(j, "beds"))
	case c.GetHeader("HX-Request") != "":
		c.Header("HX-Redirect", to)
		c.Status(http.StatusOK)
	default:
		c.Redirect(http.StatusSeeOther, to)
	}
	return nil
}

// PutShare plans all of it.
func (s *Handler) PutShare(c *gin.Context) error {
	f := form.Posted(c)
	h := handOf(c.Request.PostForm, s.Units(c))
	if len(h.faults) > 0 {
		return s.showShare(c, http.StatusUnprocessableEntity, h)
	}
	s.Close(c)
	r, err := s.App(c).Dosing.PlanShare(c.Request.Context(), s.Actor(c), h.choice, present.EncodePlan)
	if f.Add(err) {
		h.fault(err)
		return s.showShare(c, http.StatusUnprocessableEntity, h)
	}
	return s.Finish(c, "/shed/share", r, err)
}

// year sets what planning it would do.
func (v *shareView) year(sh dosing.Sharing) {
	beds := 0
	var planned []string
	for i := range sh.Beds {
		b := &sh.Beds[i]
		if b.Why != "" && b.Plan == nil {
			v.LeftOut = append(v.LeftOut, b.Dose.Record.Bed.Name+": "+b.Why)
		}
		if b.Plan == nil {
			continue
		}
		beds++
		if len(b.Dose.Scheduled()) > 0 {
			planned = append(planned, sh.Beds[i].Dose.Record.Bed.Name)
		}
	}
	if beds > 0 {
		all := "all "
		if len(v.LeftOut) > 0 {
			all = ""
		}
		v.Button = "Plan " + all + text.Count(beds, "bed", "beds")
	}
	if len(planned) > 0 {
		v.Planned = "It replaces what is planned for " + text.List(planned) + "."
	}
}

// shareTitle returns how much ash is used on how many beds.
func shareTitle(sh dosing.Sharing) string {
	ash, has, beds := sh.Ash()
	u := sh.Garden.Units()
	if beds == 0 {
		return "No ash for any bed"
	}
	return u.Mass(ash) + " of " + u.Mass(has) + " of ash for " + text.Count(beds, "bed", "beds")
}

func (v *shareView) besides(sh dosing.Sharing) {
	if len(sh.Untested) > 0 {
		v.Besides = append(v.Besides, "No reading, so no share: "+text.List(sh.Untested)+".")
	}
	for m := range sh.Stocks {
		if of := sh.Of[m]; of.Barred() {
			v.Besides = append(v.Besides, sh.Stocks[m].Name+" is not to be used: "+text.Barred(of.Source)+".")
		}
	}
	if len(sh.Unweighed) > 0 {
		v.Besides = append(v.Besides, "Not weighed, so not shared: "+text.Lower(text.List(sh.Unweighed))+".")
	}
}

// stockName returns a stock's name.
func stockName(sh dosing.Sharing, m int) string {
	if sh.Stocks[m].ID == 0 {
		return text.Capital(sh.Of[m].Name) + ", to buy"
	}
	return sh.Stocks[m].Name
}

// longestBlock is the number of letters that fit a block.
const longestBlock = 27

// lay draws the flow to the beds that get something; the others are named, and stand in the table.
func (v *shareView) lay(sh dosing.Sharing) {
	u := sh.Garden.Units()
	beds := make([]allocate.Demand, len(sh.Beds))
	for i := range sh.Beds {
		beds[i] = sh.Beds[i].Asked.Demand
	}
	var sources []svg.FlowSource
	var from []int
	for m := range sh.Stocks {
		used := sh.Used(beds, m)
		if used <= 0 {
			continue
		}
		says, scoop := "", sh.Stocks[m].Measure()
		if has := sh.Of[m].OnHand; has != nil {
			says = u.OutOf(used, *has, scoop)
		} else {
			says = present.Brief(used, scoop, u)
		}
		sources, from = append(sources, svg.FlowSource{Name: text.Clip(stockName(sh, m), longestBlock), Says: says,
			Class: string(sh.Of[m].Family)}), append(from, m)
	}
	var ships []svg.Shipment
	var without []string
	for i := range sh.Beds {
		b := &sh.Beds[i]
		row := v.row(sh, i, u)
		v.Rows = append(v.Rows, row)
		if row.Given == "" {
			without = append(without, row.Bed)
			continue
		}
		x := svg.Shipment{Range: b.Dose.Record.State.Crop.Range, From: b.Dose.Record.State.PH, To: b.Dose.Record.State.PH,
			FlowBed: svg.FlowBed{Name: row.Bed, Says: row.Given, Href: row.Href,
				Potassium: row.Potassium, Standing: string(b.Dose.Record.State.Standing)}}
		if b.After != nil {
			x.To = *b.After
		}
		x.K, x.KAfter, x.Ceiling = b.Answer.K.Now, b.K, b.Answer.K.Scale.Ceiling
		for _, m := range from {
			x.Kilos = append(x.Kilos, float64(sh.Given[i][m].Over(beds[i].Area)/quantity.Kilogram))
		}
		ships = append(ships, x)
	}
	if len(without) > 0 {
		v.Without = "Nothing for " + text.List(without) + "."
	}
	if len(ships) > 0 {
		flow := svg.FlowOf(sources, ships)
		v.Flow = &flow
	}
	v.waits()
}

// waits tells how many rests are not shared out.
func (v *shareView) waits() {
	waiting := 0
	for i := range v.Rows {
		if v.Rows[i].Rest != "" {
			waiting++
		}
	}
	if waiting > 0 {
		v.Waiting = "Each bed gets the first part of its dose. The rest for " + text.Count(waiting, "bed", "beds") +
			" waits for their tests: see the table."
	}
}

// row returns one bed in words.
func (v *shareView) row(sh dosing.Sharing, i int, u text.Units) shareRow {
	b := &sh.Beds[i]
	bed, ph := b.Dose.Record.Bed, text.PH(b.Dose.Record.State.PH)
	row := shareRow{ID: bed.ID, Bed: bed.Name, Href: site.DoseHref(bed.ID), From: ph, To: ph, Potassium: "not tested"}
	var given, gets []string
	for m, x := range sh.Given[i] {
		if x <= 0 {
			continue
		}
		amount, family := present.Brief(x.Over(b.Area), sh.Stocks[m].Measure(), u), sh.Of[m].Family
		given, gets = append(given, amount+" "+text.Family(family)), append(gets, amount+" "+text.Family(family))
		if sh.Several(family) {
			gets[len(gets)-1] = amount + " of " + text.Lower(stockName(sh, m))
		}
	}
	row.Given, row.Gets = strings.Join(given, " · "), strings.Join(gets, " · ")
	if b.After != nil {
		row.To = text.PH(*b.After)
	}
	if now := b.Answer.K.Now; now != nil {
		row.Potassium = strings.TrimSuffix(text.PPM(*now), " ppm")
		if b.K != nil && *b.K > *now+0.5 {
			row.Potassium += " to " + strings.TrimSuffix(text.PPM(*b.K), " ppm")
		}
	}
	if sh.Shortfall[i] > 0.05 {
		row.Shortfall = u.Rate(sh.Shortfall[i])
	}
	if r := b.Room; r != nil && r.Rest != 0 {
		row.Rest = u.Rate(present.Magnitude(r.Rest))
	}
	return row
}

// explain sets the value of one more kilogram, the limits, and the remaining stock.
func (v *shareView) explain(sh dosing.Sharing) {
	g, u := sh.Garden, sh.Garden.Units()
	for m, n := range sh.Next {
		if n.Bed < 0 {
			continue
		}
		says := "One more " + u.Weights().Name + " of " + text.Lower(stockName(sh, m)) + " would be for " + sh.Beds[n.Bed].Dose.Record.Bed.Name
		each := u.Weights().Size / float64(quantity.Kilogram)
		switch {
		case n.Meets > 0:
			says += ", which falls short now"
		case n.Worth > 0:
			says += " and save " + present.Money(n.Worth*each, g.Currency)
		}
		v.Next = append(v.Next, says+".")
	}
	for i := range sh.Beds {
		if b := &sh.Beds[i]; b.Why != "" { // which is what holds it back
			if b.Plan != nil {
				v.Held = append(v.Held, b.Dose.Record.Bed.Name+": "+b.Why)
			}
			continue
		}
		for _, h := range sh.Held[i] {
			if of := sh.Of[h.Stock]; of.Family != material.Ash || of.Barred() {
				continue // barred batches stay in the shed
			}
			v.Held = append(v.Held, sh.Beds[i].Dose.Record.Bed.Name+", "+text.Lower(stockName(sh, h.Stock))+": "+heldWords(h, u))
		}
	}
	for m, left := range sh.Left {
		if of := sh.Of[m]; left != nil && *left >= 1 && !of.Barred() {
			v.Left = append(v.Left, shareLeft{stockName(sh, m), u.Amount(*left, sh.Stocks[m].Measure())})
		}
	}
	priced := true
	for m := range sh.Stocks {
		priced = priced && (sh.Priced[m] || sh.Of[m].OnHand != nil)
	}
	if priced {
		v.Says = "for " + present.Money(sh.Cost, g.Currency)
		v.WithoutAsh = "The same beds without ash: " + present.Money(sh.WithoutAsh.Cost, g.Currency) + ", and no potassium."
	}
	v.Proved = proved(sh)
}

// proved tells how far the plan may be from the best there is.
func proved(sh dosing.Sharing) string {
	switch percent := func(gap float64) string { return text.Percent(quantity.Percent(100 * gap)) }; {
	case sh.ShortfallGap > 0:
		return "A longer search might meet up to " + percent(sh.ShortfallGap) + " more of what falls short of lime."
	case sh.K2OGap > 0:
		return "A longer search might meet up to " + percent(sh.K2OGap) + " more of what falls short of potash."
	case sh.Gap > 0:
		return "Within " + percent(sh.Gap) + " of the least that any plan can cost."
	}
	return "No plan costs less."
}

// heldWords returns what limits a stock on a bed, in words.
func heldWords(h allocate.Held, u text.Units) string {
	if len(h.Against) > 0 {
		return text.Lower(u.Guard(h.Against[0]).Says)
	}
	return text.Limit(h.Limit) + "."
}
