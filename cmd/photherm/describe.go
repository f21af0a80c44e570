package main

import (
	"io"

	"photherm/app/api"
	"photherm/core/design"
	"photherm/core/driver"
	"photherm/core/heat"
	"photherm/core/units"
)

func schemaCommand(out io.Writer) error {
	return printJSON(out, api.LightSchema())
}

func openapiCommand(out io.Writer) error {
	data, err := api.OpenAPI()
	if err != nil {
		return err
	}
	_, err = out.Write(data)
	return err
}

func unitsCommand(out io.Writer) error { return printJSON(out, units.Quantities()) }

func usualCommand(out io.Writer) error {
	drivers := map[string]design.Driver{}
	for _, family := range driver.UsualFamilies {
		drivers[family] = driver.Usual(family)
	}
	return printJSON(out, struct {
		Drivers map[string]design.Driver `json:"drivers"`
		Layers  []heat.UsualLayer        `json:"layers"`

		Materials []heat.Material `json:"materials"`
	}{drivers, heat.UsualLayers(), heat.Materials()})
}
