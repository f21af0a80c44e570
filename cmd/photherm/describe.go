package main

import (
	"io"

	"photherm/app/api"
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
