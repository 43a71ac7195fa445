package remote

import (
	"fmt"
	"log/slog"
	"runtime/debug"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/recover"
)

// Panics configures recovery so that a handler's panic is logged with its stack.
func Panics(log *slog.Logger, side string) recover.Config {
	return recover.Config{EnableStackTrace: true, StackTraceHandler: func(c fiber.Ctx, e any) {
		log.Error("handler panicked", "side", side, "method", c.Method(), "path", c.Path(), "panic", fmt.Sprint(e), "stack", string(debug.Stack()))
	}}
}

// Malformed describes a status that is sent before any handler runs. The parser's own message would
// show its name and parts of its buffer.
func Malformed(status int) (code, what, hint string) {
	switch status {
	case fiber.StatusRequestHeaderFieldsTooLarge:
		return "fields-too-large", "The request's header fields are too large.", "Send less than 16 KiB of them."
	case fiber.StatusRequestEntityTooLarge:
		return "body-too-large", "The request's body is too large.", "Send a smaller one."
	case fiber.StatusRequestTimeout:
		return "request-too-slow", "The request did not arrive in time.", "Send it again."
	}
	return "request-malformed", "This is not a valid HTTP request.", "Send it as RFC 9112 describes."
}
