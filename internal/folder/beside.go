package folder

import (
	"errors"
	"fmt"
	"io"
	"os"
	"path"
	"path/filepath"
	"strings"

	"glasspocket/internal/asset"
)

// Beside returns a function that reads files next to a page on disk by their addresses in it:
// relative ones from the page's folder, those that start with / from root. It never reads outside
// root. An empty root means the page's own folder.
func Beside(page, root string) (func(address string) ([]byte, bool), error) {
	if root == "" {
		root = filepath.Dir(page)
	}
	within, err := filepath.Rel(root, filepath.Dir(page))
	if err != nil || within == ".." || strings.HasPrefix(within, ".."+string(filepath.Separator)) {
		return nil, fmt.Errorf("the page %s is not in the folder %s. Name the folder of the page's site", page, root)
	}
	site, err := os.OpenRoot(root) // refuses links that lead outside
	if err != nil {
		var missing *os.PathError
		if errors.As(err, &missing) {
			return nil, fmt.Errorf("the folder %s cannot be read: %w", root, missing.Err)
		}
		return nil, err
	}
	return func(address string) ([]byte, bool) {
		at := path.Join(filepath.ToSlash(within), address)
		if strings.HasPrefix(address, "/") {
			at = strings.TrimPrefix(path.Clean(address), "/")
		}
		f, err := site.Open(filepath.FromSlash(at))
		if err != nil {
			return nil, false
		}
		defer f.Close()
		if info, err := f.Stat(); err != nil || !info.Mode().IsRegular() || info.Size() > asset.Most {
			return nil, false
		}
		text, err := io.ReadAll(f)
		return text, err == nil
	}, nil
}
