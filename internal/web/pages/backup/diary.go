package backup

import (
	"bytes"
	"crypto/subtle"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"zephyrfield/internal/exchange"
	"zephyrfield/internal/web/form"
)

// DiaryPath is the prefix of the calendar feed's address, followed by a secret; it is before the
// sign-in, which calendar programs cannot do.
const DiaryPath = "/diary/"

const diaryFile = ".ics"

func (s *Handler) writeDiary(c *gin.Context) error {
	d, err := s.App(c).Schedule.Diary(c.Request.Context(), s.Clock.Today())
	if err != nil {
		return err
	}
	id, err := s.GateOf(c).GardenID(c.Request.Context())
	if err != nil {
		return err
	}
	var b bytes.Buffer
	if err := exchange.WriteDiary(&b, id, d, s.Clock.Now()); err != nil {
		return err
	}
	s.Data(c, http.StatusOK, "text/calendar; charset=utf-8", b.Bytes())
	return nil
}

// ExportTasks sends the tasks as a calendar file.
func (s *Handler) ExportTasks(c *gin.Context) error {
	c.Header("Content-Disposition", `attachment; filename="zephyrfield-tasks.ics"`)
	return s.writeDiary(c)
}

// DiaryFeed serves the calendar feed to whoever knows the secret.
func (s *Handler) DiaryFeed(c *gin.Context) error {
	secret, err := s.GateOf(c).DiarySecret(c.Request.Context())
	if err != nil {
		return err
	}
	asked := strings.TrimSuffix(c.Param("secret"), diaryFile)
	if secret == "" || subtle.ConstantTimeCompare([]byte(secret), []byte(asked)) != 1 {
		s.Bare(c, http.StatusNotFound, "There is no diary at this address. It may have been renewed.")
		return nil
	}
	c.Header("Cache-Control", "no-store")
	return s.writeDiary(c)
}

// SetDiary replaces or removes the feed's secret.
func (s *Handler) SetDiary(c *gin.Context) error {
	secret := ""
	if c.PostForm("end") == "" {
		secret = form.Secret() + form.Secret()
	}
	if err := s.GateOf(c).SetDiarySecret(c.Request.Context(), secret); err != nil {
		return err
	}
	c.Redirect(http.StatusSeeOther, "/keep#diary")
	return nil
}

// diaryAddress returns the feed's full address as reached by this request; "" if there is none.
func (s *Handler) diaryAddress(c *gin.Context) (string, error) {
	secret, err := s.GateOf(c).DiarySecret(c.Request.Context())
	if err != nil || secret == "" {
		return "", err
	}
	scheme := "http://"
	if s.TLS {
		scheme = "https://"
	}
	return scheme + c.Request.Host + DiaryPath + secret + diaryFile, nil
}
