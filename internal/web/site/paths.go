package site

import (
	"strconv"
)

func DoseHref(bed int64) string { return "/beds/" + strconv.FormatInt(bed, 10) + "/dose" }

func MoveHref(task int64) string { return "/tasks/" + strconv.FormatInt(task, 10) + "/move" }

func SeasonsHref(bed int64) string { return "/seasons?bed=" + strconv.FormatInt(bed, 10) }

func TaughtHref(bed int64) string { return "/beds/" + strconv.FormatInt(bed, 10) + "/taught" }

func TurnHref(bed int64) string { return "/beds/" + strconv.FormatInt(bed, 10) + "/turn" }

// MaxPhoto is the most that a camera's picture may have when it is sent.
const MaxPhoto = 16 << 20

func SeenHref(bed int64) string { return "/beds/" + strconv.FormatInt(bed, 10) + "/seen" }

const ShedTab = "Shed"
