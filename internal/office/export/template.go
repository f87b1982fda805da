package export

import (
	"embed"
	"fmt"
	"path"

	"turret/internal/record"
	"turret/internal/right"
	"turret/internal/store"
)

//go:embed sample/*.csv
var sample embed.FS

// Template writes every table empty under empty/, and filled with a small
// example under example/. The directory must not exist.
func Template(a right.Actor, dir string) error {
	if err := right.Check(a, right.Read); err != nil {
		return err
	}
	if store.Exists(dir) {
		return fmt.Errorf("%s exists already; name another directory", dir)
	}
	err := WriteDir(path.Join(dir, "empty"), func(file func(string, []byte) error) error {
		for _, t := range record.Kinds() {
			body, err := (&tableFile{t: t}).csv()
			if err != nil {
				return err
			}
			if err := file(t.Name+".csv", body); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	return WriteDir(path.Join(dir, "example"), func(file func(string, []byte) error) error {
		entries, err := sample.ReadDir("sample")
		if err != nil {
			return err
		}
		for _, e := range entries {
			body, err := sample.ReadFile("sample/" + e.Name())
			if err != nil {
				return err
			}
			if err := file(e.Name(), body); err != nil {
				return err
			}
		}
		return nil
	})
}
