package dose

import (
	"net/url"
	"strconv"

	"zephyrfield/agronomy/dose"
	"zephyrfield/agronomy/material"
	"zephyrfield/internal/dosing"
	"zephyrfield/internal/web/form"
)

// mixHref returns the address of a bed's mix page; "" if nothing is to be raised.
func mixHref(w *dosing.Dose, f form.Form) string {
	if w.Answer.Direction != dose.Raise || len(w.Mixable(material.Ash)) == 0 || len(w.Mixable(material.Lime)) == 0 {
		return ""
	}
	q, err := url.ParseQuery(Query(f))
	if err != nil {
		return ""
	}
	q.Del("use")
	return "/beds/" + strconv.FormatInt(w.Record.Bed.ID, 10) + "/mix?" + q.Encode()
}
