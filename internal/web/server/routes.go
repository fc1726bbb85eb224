package server

import (
	"io/fs"
	"net/http"

	"github.com/gin-gonic/gin"

	"zephyrfield/internal/web/pages/backup"
	"zephyrfield/internal/web/pages/bedform"
	"zephyrfield/internal/web/pages/beds"
	"zephyrfield/internal/web/pages/bench"
	"zephyrfield/internal/web/pages/compare"
	"zephyrfield/internal/web/pages/crops"
	"zephyrfield/internal/web/pages/days"
	"zephyrfield/internal/web/pages/daysheet"
	"zephyrfield/internal/web/pages/dose"
	"zephyrfield/internal/web/pages/ground"
	"zephyrfield/internal/web/pages/help"
	"zephyrfield/internal/web/pages/lab"
	"zephyrfield/internal/web/pages/learned"
	"zephyrfield/internal/web/pages/log"
	"zephyrfield/internal/web/pages/many"
	"zephyrfield/internal/web/pages/marks"
	"zephyrfield/internal/web/pages/mix"
	"zephyrfield/internal/web/pages/move"
	"zephyrfield/internal/web/pages/observations"
	"zephyrfield/internal/web/pages/onboarding"
	"zephyrfield/internal/web/pages/place"
	"zephyrfield/internal/web/pages/preparation"
	"zephyrfield/internal/web/pages/record"
	"zephyrfield/internal/web/pages/report"
	"zephyrfield/internal/web/pages/round"
	"zephyrfield/internal/web/pages/seasons"
	"zephyrfield/internal/web/pages/share"
	"zephyrfield/internal/web/pages/shed"
	"zephyrfield/internal/web/pages/showcase"
	"zephyrfield/internal/web/pages/sidedressing"
	"zephyrfield/internal/web/pages/soiltemps"
	"zephyrfield/internal/web/pages/spreading"
	"zephyrfield/internal/web/pages/tour"
	"zephyrfield/internal/web/pages/walk"
	"zephyrfield/internal/web/pages/years"
	"zephyrfield/internal/web/site"
)

// route is an address behind the sign-in with its handler.
type route struct {
	method, path string
	// page returns the handler for a site.
	page func(*site.Site) func(*gin.Context) error
	// only reports whether a site has it; nil: always.
	only func(*site.Site) bool
}

// get and post are routes of a page, which is made of a site for what it answers with.
func get[H any](path string, of func(*site.Site) H, answer func(H, *gin.Context) error) route {
	return route{method: http.MethodGet, path: path, page: answering(of, answer)}
}

func post[H any](path string, of func(*site.Site) H, answer func(H, *gin.Context) error) route {
	return route{method: http.MethodPost, path: path, page: answering(of, answer)}
}

func answering[H any](of func(*site.Site) H, answer func(H, *gin.Context) error) func(*site.Site) func(*gin.Context) error {
	return func(s *site.Site) func(*gin.Context) error {
		page := of(s)
		return func(c *gin.Context) error { return answer(page, c) }
	}
}

// when restricts a route to some sites.
func (r route) when(only func(*site.Site) bool) route {
	r.only = only
	return r
}

// heavy marks a route that makes or takes in a file.
func (r route) heavy() route {
	page := r.page
	r.page = func(s *site.Site) func(*gin.Context) error { return s.Heavy(page(s)) }
	return r
}

func signsIn(s *site.Site) bool { return s.SignIn }

func isDemo(s *site.Site) bool { return s.Demo != nil }

// ownCalendar reports whether the garden's calendar is advanced by hand.
func ownCalendar(s *site.Site) bool { return s.Demo != nil || s.Rehearsal != nil }

// silent wraps a handler that cannot fail.
func silent[H any](answer func(H, *gin.Context)) func(H, *gin.Context) error {
	return func(page H, c *gin.Context) error {
		answer(page, c)
		return nil
	}
}

// itself is for routes handled by the Site's own methods.
func itself(s *site.Site) *site.Site { return s }

// page is a page behind the sign-in: its templates and its routes.
type page struct {
	templates fs.FS
	routes    []route
}

// pages are all pages behind the sign-in, each with its templates and its routes.
var pages = []page{
	{site.Templates, []route{
		post("/undo/:id", itself, (*site.Site).Undo),
		post("/demo/day", itself, (*site.Site).MoveDay).when(ownCalendar),
	}},
	{ground.Templates, []route{
		get("/", ground.New, (*ground.Handler).Ground),
		get("/find", ground.New, (*ground.Handler).Find),
		get("/export/beds.csv", ground.New, (*ground.Handler).BedsCSV).heavy(),
	}},
	{onboarding.Templates, []route{
		get("/begin", onboarding.New, (*onboarding.Handler).BeginPlace),
		post("/begin", onboarding.New, (*onboarding.Handler).SetBeginPlace),
		get("/begin/bed", onboarding.New, (*onboarding.Handler).BeginBed),
		post("/begin/bed", onboarding.New, (*onboarding.Handler).AddBeginBed),
		get("/begin/reading", onboarding.New, (*onboarding.Handler).BeginReading),
		post("/begin/reading", onboarding.New, (*onboarding.Handler).AddBeginReading),
	}},
	{bedform.Templates, []route{
		get("/beds/new", bedform.New, (*bedform.Handler).NewBed),
		post("/beds", bedform.New, (*bedform.Handler).AddBed),
		get("/beds/:id/edit", bedform.New, (*bedform.Handler).EditBed),
		post("/beds/:id", bedform.New, (*bedform.Handler).SaveBed),
		post("/beds/:id/retire", bedform.New, (*bedform.Handler).RetireBed),
		post("/beds/:id/duplicate", bedform.New, (*bedform.Handler).DuplicateBed),
	}},
	{beds.Templates, []route{
		get("/beds", beds.New, (*beds.Handler).Beds),
		post("/beds/change", beds.New, (*beds.Handler).ChangeBeds),
		post("/beds/table", beds.New, (*beds.Handler).AddTable).heavy(),
	}},
	{record.Templates, []route{
		get("/beds/:id", record.New, (*record.Handler).Bed),
		post("/beds/:id/applications", record.New, (*record.Handler).LogApplication),
		post("/beds/:id/plantings", record.New, (*record.Handler).AddPlanting),
		post("/plantings/:id/clear", record.New, (*record.Handler).ClearPlanting),
	}},
	{marks.Templates, []route{
		get("/marks", marks.New, (*marks.Handler).Marks),
		post("/marks", marks.New, (*marks.Handler).AddMark),
		get("/marks/:id/edit", marks.New, (*marks.Handler).EditMark),
		post("/marks/:id", marks.New, (*marks.Handler).SaveMark),
		post("/marks/:id/drop", marks.New, (*marks.Handler).DropMark),
	}},
	{walk.Templates, []route{
		get("/walk", walk.New, (*walk.Handler).WalkPlan),
		post("/walk", walk.New, (*walk.Handler).StartRound),
	}},
	{round.Templates, []route{
		post("/walk/:id/report", round.New, (*round.Handler).LabReport),
		get("/walk/:id", round.New, (*round.Handler).Walk),
		get("/walk/:id/labels", round.New, (*round.Handler).Labels),
		get("/walk/:id/round.csv", round.New, (*round.Handler).RoundCSV).heavy(),
		post("/walk/:id/tick", round.New, (*round.Handler).Tick),
		post("/walk/:id/note", round.New, (*round.Handler).NoteOddity),
		post("/samples/:id", round.New, (*round.Handler).MoveSample),
	}},
	{bench.Templates, []route{
		get("/bench", bench.New, (*bench.Handler).Bench),
		post("/readings", bench.New, (*bench.Handler).AddReading),
		post("/readings/:id", bench.New, (*bench.Handler).ReplaceReading),
		post("/readings/:id/strike", bench.New, (*bench.Handler).StrikeReading),
		get("/bench/probe", bench.New, silent((*bench.Handler).ReadProbe)),
		get("/bench/means", bench.New, (*bench.Handler).Preview),
	}},
	{tour.Templates, []route{
		get("/bench/tour", tour.New, (*tour.Handler).Tour),
		post("/bench/tour", tour.New, (*tour.Handler).AddTour),
	}},
	{lab.Templates, []route{
		get("/bench/lab", lab.New, (*lab.Handler).LabForm),
		post("/bench/lab", lab.New, (*lab.Handler).TakeLabFile).heavy(),
		get("/bench/lab/:id", lab.New, (*lab.Handler).LabPreview),
		post("/bench/lab/:id", lab.New, (*lab.Handler).TakeLab),
		get("/bench/lab/:id/progress", lab.New, (*lab.Handler).LabProgress),
		get("/export/readings.csv", lab.New, (*lab.Handler).ExportReadings).heavy(),
		get("/export/readings.xlsx", lab.New, (*lab.Handler).ExportReadings).heavy(),
		get("/demo/lab-report.xlsx", lab.New, (*lab.Handler).SampleReport).heavy().when(isDemo),
	}},
	{dose.Templates, []route{
		get("/beds/:id/dose", dose.New, (*dose.Handler).Dose),
		get("/beds/:id/dose.json", dose.New, (*dose.Handler).DoseJSON),
		post("/beds/:id/plan", dose.New, (*dose.Handler).PlanDose),
		get("/dose", dose.New, (*dose.Handler).AnyDose),
	}},
	{mix.Templates, []route{
		get("/beds/:id/mix", mix.New, (*mix.Handler).Mix),
		post("/beds/:id/mix", mix.New, (*mix.Handler).PutMix),
	}},
	{sidedressing.Templates, []route{
		get("/beds/:id/side", sidedressing.New, (*sidedressing.Handler).Side),
		post("/beds/:id/side", sidedressing.New, (*sidedressing.Handler).PutSide),
	}},
	{many.Templates, []route{
		get("/dose/many", many.New, (*many.Handler).ManyDoses),
		post("/dose/many", many.New, (*many.Handler).PutMany),
	}},
	{shed.Templates, []route{
		get("/shed/ash", shed.New, (*shed.Handler).NewAsh),
		get("/shed/bag", shed.New, (*shed.Handler).NewBag),
		post("/shed", shed.New, (*shed.Handler).AddBatch),
		get("/shed/:id", shed.New, (*shed.Handler).EditBatch),
		post("/shed/:id", shed.New, (*shed.Handler).SaveBatch),
		post("/shed/:id/move", shed.New, (*shed.Handler).MoveStock),
		post("/shed/:id/drop", shed.New, (*shed.Handler).DropBatch),
		get("/shed", shed.New, (*shed.Handler).Shed),
		post("/shed/mix", shed.New, (*shed.Handler).MixBins),
		get("/shed/:id/label", shed.New, (*shed.Handler).BinLabel),
		get("/export/shelf.csv", shed.New, (*shed.Handler).ExportInventory).heavy(),
		post("/shed/csv", shed.New, (*shed.Handler).ImportInventory).heavy(),
	}},
	{share.Templates, []route{
		get("/shed/share", share.New, (*share.Handler).ShareOut),
		get("/shed/share/progress", share.New, (*share.Handler).ShareProgress),
		post("/shed/share", share.New, (*share.Handler).PutShare),
	}},
	{spreading.Templates, []route{
		get("/bucket", spreading.New, (*spreading.Handler).Bucket),
		post("/bucket/:id", spreading.New, (*spreading.Handler).Pour),
	}},
	{daysheet.Templates, []route{
		get("/sheet", daysheet.New, (*daysheet.Handler).Sheet),
		post("/tasks/:id/put-on", daysheet.New, (*daysheet.Handler).PutOn),
		post("/tasks/:id/skip", daysheet.New, (*daysheet.Handler).Skip),
		post("/sheet/wait", daysheet.New, (*daysheet.Handler).WaitForWeather),
	}},
	{move.Templates, []route{
		get("/tasks/:id/move", move.New, (*move.Handler).AskMove),
		post("/tasks/:id/move", move.New, (*move.Handler).MoveTask),
	}},
	{days.Templates, []route{
		get("/days", days.New, (*days.Handler).Days),
		post("/days", days.New, (*days.Handler).SetDays),
	}},
	{soiltemps.Templates, []route{
		get("/warmth", soiltemps.New, (*soiltemps.Handler).Warmth),
		post("/warmth", soiltemps.New, (*soiltemps.Handler).NoteWarmth),
		post("/warmth/take", soiltemps.New, (*soiltemps.Handler).TakeWarmth).heavy(),
		post("/warmth/:id/out", soiltemps.New, (*soiltemps.Handler).DropWarmth),
	}},
	{preparation.Templates, []route{
		post("/tasks/:id/done", preparation.New, (*preparation.Handler).StepDone),
		post("/turnings/:id/drop", preparation.New, (*preparation.Handler).DropPreparation),
		post("/turnings/:id/keep", preparation.New, (*preparation.Handler).KeepWay),
		post("/turnings/:id/steps", preparation.New, (*preparation.Handler).AddStep),
		get("/beds/:id/turn", preparation.New, (*preparation.Handler).PrepareBed),
		post("/beds/:id/turn", preparation.New, (*preparation.Handler).PlanPreparation),
	}},
	{seasons.Templates, []route{
		get("/seasons", seasons.New, (*seasons.Handler).Seasons),
	}},
	{report.Templates, []route{
		get("/seasons/report", report.New, (*report.Handler).Report),
		get("/export/season.csv", report.New, (*report.Handler).ExportReport).heavy(),
		get("/export/season.xlsx", report.New, (*report.Handler).ExportReport).heavy(),
	}},
	{compare.Templates, []route{
		get("/beds/:id/try", compare.New, (*compare.Handler).Try),
	}},
	{learned.Templates, []route{
		get("/beds/:id/learned", learned.New, (*learned.Handler).Shown),
		post("/beds/:id/learned", learned.New, (*learned.Handler).SetShown),
	}},
	{years.Templates, []route{
		get("/years", years.New, (*years.Handler).Years),
		post("/years", years.New, (*years.Handler).AddToYears),
	}},
	{log.Templates, []route{
		get("/export/log.csv", log.New, (*log.Handler).ExportLog).heavy(),
		post("/log/csv", log.New, (*log.Handler).TakeLog).heavy(),
		get("/log", log.New, (*log.Handler).Log),
		get("/log/:id", log.New, (*log.Handler).LogEntry),
		post("/log", log.New, (*log.Handler).AddToLog),
		post("/log/:id", log.New, (*log.Handler).CorrectLog),
		post("/log/:id/remove", log.New, (*log.Handler).RemoveFromLog),
	}},
	{observations.Templates, []route{
		get("/beds/:id/seen", observations.New, (*observations.Handler).Observations),
		post("/beds/:id/seen", observations.New, (*observations.Handler).NoteObservation),
		post("/sights/:id/forget", observations.New, (*observations.Handler).ForgetObservation),
		get("/sights/:id/photo", observations.New, (*observations.Handler).Photo),
	}},
	{crops.Templates, []route{
		get("/crops", crops.New, (*crops.Handler).Crops),
		post("/crops", crops.New, (*crops.Handler).SetCrop),
		post("/crops/drop", crops.New, (*crops.Handler).DropCrop),
	}},
	{place.Templates, []route{
		get("/place", place.New, (*place.Handler).Place),
		post("/place", place.New, (*place.Handler).SetPlace),
	}},
	{help.Templates, []route{
		get("/help", help.New, (*help.Handler).Help),
	}},
	{showcase.Templates, []route{
		get("/components", showcase.New, (*showcase.Handler).ShowComponents).when(isDemo),
	}},
	{backup.Templates, []route{
		get("/export/tasks.ics", backup.New, (*backup.Handler).ExportTasks),
		post("/diary/address", backup.New, (*backup.Handler).SetDiary),
		get("/keep", backup.New, (*backup.Handler).Keeping),
		get("/export/garden.json", backup.New, (*backup.Handler).ExportArchive).heavy(),
		post("/import", backup.New, (*backup.Handler).ImportArchive).heavy(),
		get("/export/plan.geojson", backup.New, (*backup.Handler).ExportPlan).heavy(),
		post("/import/plan", backup.New, (*backup.Handler).ImportPlan).heavy(),
		post("/keep/put-back", backup.New, (*backup.Handler).PutBack),
		post("/sessions/:id/end", backup.New, (*backup.Handler).EndSession).when(signsIn),
		post("/passphrase", backup.New, (*backup.Handler).ChangePassphrase).when(signsIn),
	}},
}
