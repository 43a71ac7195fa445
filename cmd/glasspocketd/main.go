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

const usage = `glasspocketd serves widgets to visitors' pages, and the console and API to the
people who manage them.

  glasspocketd serve -data DIR     run the service
  glasspocketd demo                run it with demo customers, pockets and host
                                   pages
  glasspocketd backup -data DIR FILE
                                   back up the data folder to one file
  glasspocketd restore -data DIR FILE
                                   restore a backup
  glasspocketd openapi             print the manage API's OpenAPI document
  glasspocketd version             print the version

“glasspocketd COMMAND -h” shows the options of a command.
`

func main() {
	// The database contains password hashes and everybody's data. An existing data folder may be
	// readable for others; new files in it must not be.
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
	return fmt.Errorf("unknown command %q. “glasspocketd -h” lists the commands", args[0])
}
