package web

import (
	"io"
	"net/http"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/agronomy/quantity"
	"zephyrfield/agronomy/sign"
	"zephyrfield/agronomy/words"
	"zephyrfield/internal/garden"
	"zephyrfield/internal/seen"
	"zephyrfield/internal/web/form"
	"zephyrfield/internal/web/view"
)

var _ = pagesAt(
	get("/beds/:id/seen", (*server).seen),
	post("/beds/:id/seen", (*server).noteSeen),
	post("/sights/:id/forget", (*server).forgetSeen),
	get("/sights/:id/photo", (*server).photo),
)

// maxPhoto is the most that a camera's picture may have when it is sent.
const maxPhoto = 16 << 20

// seenView is what the eye sees on a bed, to be tapped.
type seenView struct {
	view.Page
	ID    int64
	Bed   string
	Form  form.Form
	Signs []tile
	Rows  []seenRow
	Back  string
}

// seenRow is something that was seen.
type seenRow struct {
	ID, Version              int64
	Day, Name, Says, Note    string
	Photo, Key, Asks, Forget string
}

func seenRows(all []seen.Seen) (out []seenRow) {
	for _, x := range all {
		id := "/sights/" + strconv.FormatInt(x.ID, 10)
		row := seenRow{ID: x.ID, Version: x.Version, Day: words.DayYear(x.Day), Name: words.SignName(x.Sign), Says: words.SignSays(x.Sign),
			Note: x.Note, Key: form.NewKey(), Forget: id + "/forget"}
		if x.Pictured {
			row.Photo = id + "/photo"
		}
		if x.Open {
			row.Asks = words.Capital(words.SignAsks(x.Sign))
		}
		out = append(out, row)
	}
	return out
}

func seenHref(bed int64) string { return "/beds/" + strconv.FormatInt(bed, 10) + "/seen" }

func (s *server) seen(c *gin.Context) error {
	id, err := paramID(c)
	if err != nil {
		return err
	}
	f := form.NoForm()
	f.Values["day"] = s.Clock.Today().String()
	return s.showSeen(c, http.StatusOK, id, f)
}

func (s *server) showSeen(c *gin.Context, status int, id int64, f form.Form) error {
	today := s.Clock.Today()
	bed, err := s.keep.Plots.Named(c.Request.Context(), id)
	if err != nil {
		return err
	}
	g, err := s.keep.Place(c.Request.Context())
	if err != nil {
		return err
	}
	all, err := s.keep.Seen.OfBed(c.Request.Context(), id, today)
	if err != nil {
		return err
	}
	v := seenView{ID: id, Bed: bed.Name, Form: f, Rows: seenRows(all), Back: bedHref(id)}
	for _, x := range sign.Signs {
		v.Signs = append(v.Signs, tile{Value: x.ID, Text: words.SignName(x.ID)})
	}
	f.Sentences()
	v.Page = s.page(c, g, "Ground", "What do you see on "+bed.Name+"?")
	if err := s.undated(c, &v.Page); err != nil {
		return err
	}
	s.render(c, status, "seen", v)
	return nil
}

func (s *server) noteSeen(c *gin.Context) error {
	id, err := paramID(c)
	if err != nil {
		return err
	}
	f := form.Posted(c, "sign", "day", "note")
	x := garden.Sight{BedID: id, Day: f.Day("day"), Sign: f.Value("sign"), Note: f.Value("note")}
	if x.Day == 0 {
		x.Day = s.Clock.Today()
	}
	photo, why := photoOf(c)
	if why != "" {
		f.Faults["photo"] = why
	}
	if len(f.Faults) > 0 {
		return s.showSeen(c, http.StatusUnprocessableEntity, id, f)
	}
	r, err := s.keep.Seen.Note(c.Request.Context(), s.act(c), x, photo)
	if f.Add(err) {
		return s.showSeen(c, http.StatusUnprocessableEntity, id, f)
	}
	if err != nil {
		return err
	}
	s.done(c, seenHref(id), r)
	return nil
}

// photoOf is the picture that was sent; nil for none.
func photoOf(c *gin.Context) (raw []byte, why string) {
	file, err := c.FormFile("photo")
	if err != nil || file.Size == 0 {
		return nil, "" // none was taken
	}
	in, err := file.Open()
	if err != nil {
		return nil, "the photograph did not arrive whole; send it again"
	}
	defer func() { _ = in.Close() }()
	if raw, err = io.ReadAll(io.LimitReader(in, maxPhoto+1)); err != nil || len(raw) > maxPhoto {
		return nil, "the photograph is too large"
	}
	return raw, ""
}

func (s *server) forgetSeen(c *gin.Context) error {
	id, version, err := taskPost(c)
	if err != nil {
		return err
	}
	r, err := s.keep.Seen.Forget(c.Request.Context(), s.act(c), id, version)
	if err != nil {
		return err
	}
	s.done(c, c.PostForm("back"), r)
	return nil
}

func (s *server) photo(c *gin.Context) error {
	id, err := paramID(c)
	if err != nil {
		return err
	}
	raw, err := s.keep.Seen.Photo(c.Request.Context(), id)
	if err != nil {
		return err
	}
	c.Header("Cache-Control", "private, max-age=3600")
	c.Data(http.StatusOK, "image/jpeg", raw)
	return nil
}

// seenAsk is the newest question that a sight on a bed leaves open; "" for none.
func seenAsk(all []seen.Seen, today quantity.Day) string {
	for _, x := range all {
		if x.Open {
			return "Seen " + words.NearDay(x.Day, today) + ": " + words.Lower(words.SignName(x.Sign)) + ". " +
				strings.TrimSpace(words.SignSays(x.Sign))
		}
	}
	return ""
}
