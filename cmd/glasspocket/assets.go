package main

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"glasspocket/internal/asset"
)

var uploadVerb = verb{
	arguments: "CUSTOMER FILE…", about: "Upload images, sounds or fonts for a customer",
	examples: []string{"upload kelp-and-kiln bowl.svg", "upload kelp-and-kiln bowl.svg mug.svg"},
	flags: func(f *flag.FlagSet) func(*session) error {
		return func(s *session) error {
			if len(s.args) < 2 {
				return usagef("name the customer and at least one file")
			}
			for _, file := range s.args[1:] {
				info, err := os.Stat(file)
				if err != nil {
					return fmt.Errorf("the file cannot be read: %w", err)
				}
				if info.Size() > asset.Most {
					return fmt.Errorf("%s has %.1f MB; the limit is %d MB. Scale an image down (2,560 pixels are enough), or shorten a sound", file, float64(info.Size())/(1<<20), asset.Most>>20)
				}
				src, err := os.ReadFile(file)
				if err != nil {
					return err
				}
				out, err := s.api.Upload(s.ctx, s.args[0], filepath.Base(file), src)
				if err != nil {
					return err
				}
				if s.json {
					if err := s.print(out); err != nil {
						return err
					}
					continue
				}
				what := out.Type
				if out.Width > 0 {
					what = fmt.Sprintf("%s, %d × %d, in %d sizes", what, out.Width, out.Height, len(out.Forms))
				}
				if !out.Fresh {
					what += ", uploaded before"
				}
				fmt.Fprintf(s.out, "%s  %s (%s)\n", out.Digest, out.Name, what)
			}
			return nil
		}
	},
}

// assets lists a customer's assets, or one with what shows it.
func (s *session) assets() error {
	if len(s.args) < 2 {
		return usagef("name the customer: list assets CUSTOMER")
	}
	all, err := s.api.Assets(s.ctx, s.args[1])
	if err != nil {
		return err
	}
	if s.json {
		return s.print(all)
	}
	rows := [][]string{}
	for _, a := range all {
		size := ""
		if a.Width > 0 {
			size = fmt.Sprintf("%d × %d", a.Width, a.Height)
		}
		one, err := s.api.Asset(s.ctx, s.args[1], a.Digest)
		if err != nil {
			return err
		}
		rows = append(rows, []string{a.Digest, a.Name, string(a.Kind), size, day(a.CreatedAt), strings.Join(one.UsedBy, ", ")})
	}
	s.table("DIGEST | NAME | KIND | SIZE | UPLOADED | USED BY", rows, "There are no assets yet. Upload one: glasspocket upload CUSTOMER FILE")
	return nil
}
