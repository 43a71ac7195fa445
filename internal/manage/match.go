package manage

import (
	"slices"
	"strconv"

	"github.com/gofiber/fiber/v3"

	"glasspocket/internal/header"
	"glasspocket/internal/problem"
)

// revision reads If-Match, which contains the revision to change, as in its ETag: "7". The field
// can list several, or be * for the current one (RFC 9110, section 13.1.1). Then current returns
// the present revision, which the change still compares.
func (k *call) revision(current func() (int, error)) (int, error) {
	lines := k.Request().Header.PeekAll(fiber.HeaderIfMatch)
	if len(lines) == 0 {
		return 0, &httpError{428, "if-match-missing", "This change needs If-Match.", "Read the object and send its ETag, so that you do not overwrite somebody else's change."}
	}
	tags := header.ReadTags(lines)
	var listed []int
	for _, tag := range tags.Strong() {
		if n, err := strconv.Atoi(tag); err == nil && n >= 1 {
			listed = append(listed, n)
		}
	}
	switch {
	case !tags.Any && len(listed) == 0:
		return 0, &problem.Error{Kind: problem.Precondition, Code: "if-match-faulty", What: "If-Match is not a revision of this object.", Hint: "Send the ETag unchanged. Weak tags (W/) do not match."}
	case !tags.Any && len(listed) == 1:
		return listed[0], nil
	}
	got, err := current()
	if err != nil || tags.Any || slices.Contains(listed, got) {
		return got, err
	}
	return listed[0], nil
}

// ofPocket, ofCustomer and ofBrand return the current revisions.

func (d *door) ofPocket(k *call) func() (int, error) {
	return func() (int, error) {
		p, err := d.App.Pockets.Get(k, k.scope, k.Params("key"))
		return p.Revision, err
	}
}

func (d *door) ofCustomer(k *call) func() (int, error) {
	return func() (int, error) {
		c, err := d.App.Customers.Get(k, k.scope, k.Params("id"))
		return c.Revision, err
	}
}

func (d *door) ofBrand(k *call) func() (int, error) {
	return func() (int, error) {
		_, revision, err := d.App.Customers.Brand(k, k.scope, k.Params("id"))
		return revision, err
	}
}
