package remote

import (
	"strings"

	"github.com/gofiber/fiber/v3"
)

// Compressed reports whether a request has a compressed body (Content-Encoding, RFC 9110, section
// 8.4). Both listeners refuse such bodies: a few hundred bytes can decompress to more memory than
// the machine has, before anybody has signed in.
func Compressed(c fiber.Ctx) bool {
	if len(c.Request().Body()) == 0 { // as in every request from a visitor
		return false
	}
	for _, line := range c.Request().Header.PeekAll(fiber.HeaderContentEncoding) {
		for _, name := range strings.Split(string(line), ",") {
			if name = strings.TrimSpace(name); name != "" && !strings.EqualFold(name, "identity") {
				return true
			}
		}
	}
	return false
}
