// Command glasspocketd is the Glass Pocket service.
package main

import (
	"context"
	"errors"
	"flag"
	"fmt"
	"os"
	"os/signal"
	"syscall"

	"glasspocket/internal/manage"
	"glasspocket/internal/program"
)

const usage = `glasspocketd serves widgets to visitors' pages, and the console and API to those
who run them.

  glasspocketd serve -data DIR     run the service
  glasspocketd demo                run it with made-up customers, pockets and
                                   host pages
  glasspocketd backup -data DIR FILE
                                   copy everything into a file, also while it
                                   runs
  glasspocketd restore -data DIR FILE
                                   start again from such a file
  glasspocketd openapi             print the manage API's OpenAPI document
  glasspocketd version             tell which build this is

“glasspocketd COMMAND -h” lists a command's options.
`

func main() {
	// The database holds password hashes and everybody's data. A data folder may be there already,
	// open to others; what is written into it must not be.
	syscall.Umask(0o077)
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	if err := run(ctx, os.Args[1:]); err != nil {
		if errors.Is(err, flag.ErrHelp) {
			return
		}
		fmt.Fprintln(os.Stderr, "glasspocketd:", err)
		stop()
		os.Exit(1)
	}
}

func run(ctx context.Context, args []string) error {
	if len(args) == 0 {
		args = []string{"-h"}
	}
	switch args[0] {
	case "serve":
		return serveCommand(ctx, args[1:])
	case "demo":
		return demoCommand(ctx, args[1:])
	case "backup":
		return backupCommand(ctx, args[1:])
	case "restore":
		return restoreCommand(ctx, args[1:])
	case "openapi":
		_, err := os.Stdout.Write(manage.Document())
		return err
	case "version", "-version", "--version":
		fmt.Println(program.Describe("glasspocketd"))
		return nil
	case "-h", "-help", "--help", "help":
		fmt.Print(usage)
		return nil
	}
	return fmt.Errorf("there is no command %q; “glasspocketd -h” lists them", args[0])
}
