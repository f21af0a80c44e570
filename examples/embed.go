// Package examples holds the light files of the demo workshop and its cabinet.
package examples

import "embed"

// Files are the light files.
//
//go:embed *.json
var Files embed.FS

// Cabinet is the workshop's cabinet, as it is exported.
//
//go:embed cabinet/parts.json
var Cabinet []byte

// Lots are the lots of cells in it.
//
//go:embed lots/*.json
var Lots embed.FS

// Logs are what was logged of the lights, each by the name of its light's file.
//
//go:embed logs/*.csv
var Logs embed.FS
