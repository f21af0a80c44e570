// Package examples holds the light files of the demo workshop.
package examples

import "embed"

// Files are the light files.
//
//go:embed *.json
var Files embed.FS
