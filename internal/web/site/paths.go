package site

import (
	"strconv"
)

// DoseHref returns the address of a bed's dose.
func DoseHref(bed int64) string { return "/beds/" + strconv.FormatInt(bed, 10) + "/dose" }

// MoveHref returns the address of moving a task.
func MoveHref(task int64) string { return "/tasks/" + strconv.FormatInt(task, 10) + "/move" }

// SeasonsHref returns the address of a bed's outlook.
func SeasonsHref(bed int64) string { return "/seasons?bed=" + strconv.FormatInt(bed, 10) }

// ShownHref returns the address of what a bed has shown.
func ShownHref(bed int64) string { return "/beds/" + strconv.FormatInt(bed, 10) + "/learned" }

// PreparationHref returns the address of preparing a bed.
func PreparationHref(bed int64) string { return "/beds/" + strconv.FormatInt(bed, 10) + "/turn" }

// MaxPhoto is the largest picture that may be uploaded, bytes.
const MaxPhoto = 16 << 20

// ObservationHref returns the address of a bed's observations.
func ObservationHref(bed int64) string { return "/beds/" + strconv.FormatInt(bed, 10) + "/seen" }

// ShedTab is the tab of the inventory's pages.
const ShedTab = "Shed"
