// Package ui carries the built front end inside the binary.
package ui

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var files embed.FS

// Dist is the built front end; it holds no index.html before the first build.
func Dist() fs.FS {
	dist, err := fs.Sub(files, "dist")
	if err != nil {
		panic(err) // the folder is embedded above
	}
	return dist
}
