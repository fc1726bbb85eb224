package garden

import (
	"zephyrfield/agronomy/soil"
)

// Ground is the bed as agronomy has it.
func (b Bed) Ground(table soil.TableClimate) soil.Ground {
	t, _ := soil.FindTexture(b.Texture)
	return soil.Ground{Area: b.Area(), Depth: b.Depth, Texture: t, Table: table, Worked: b.Worked, Use: b.Use(),
		OrganicMatter: b.OrganicMatter, Clay: b.Clay, CEC: b.CEC, FreeLime: b.FreeLime, Stones: b.Stones}
}
