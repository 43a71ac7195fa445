package main

import (
	"context"
	"flag"
	"fmt"
	"os"
	"time"

	"glasspocket/internal/program"
	"glasspocket/internal/store"
)

func copyFlags(name, usage string, args []string) (data, file string, err error) {
	f := flag.NewFlagSet("glasspocketd "+name, flag.ContinueOnError)
	f.Usage = func() {
		fmt.Fprint(f.Output(), usage+"\n\nOptions:\n")
		program.Options(f.Output(), f)
	}
	f.StringVar(&data, "data", os.Getenv("GLASSPOCKET_DATA"), "data `folder` (GLASSPOCKET_DATA)")
	if err := f.Parse(args); err != nil {
		return "", "", quietly(err)
	}
	switch {
	case data == "":
		return "", "", fmt.Errorf("%s needs the data folder. Name it with -data DIR", name)
	case f.NArg() != 1:
		return "", "", fmt.Errorf("%s needs one file after the options: glasspocketd %[1]s -data DIR FILE", name)
	}
	return data, f.Arg(0), nil
}

func backupCommand(ctx context.Context, args []string) error {
	data, file, err := copyFlags("backup", `Usage: glasspocketd backup -data DIR FILE

Writes everything in the data folder to one file. The service can keep running.
The file contains password hashes and every customer's data, so keep it safe.`, args)
	if err != nil {
		return err
	}
	c, err := store.Backup(ctx, data, file)
	if err != nil {
		return err
	}
	fmt.Printf("Backed up %s, %d bytes, to %s\nTo restore it: glasspocketd restore -data DIR %[3]s\n", pockets(c.Pockets), c.Bytes, file)
	return nil
}

func restoreCommand(ctx context.Context, args []string) error {
	data, file, err := copyFlags("restore", `Usage: glasspocketd restore -data DIR FILE

Replaces the database in the data folder with a backup. Stop the service first.
The old database is kept next to the new one.`, args)
	if err != nil {
		return err
	}
	c, aside, err := store.Restore(ctx, data, file, time.Now())
	if err != nil {
		return err
	}
	if aside != "" {
		fmt.Printf("The old database is kept as %s\n", aside)
	}
	fmt.Printf("Restored %s to %s.\nTo start the service: glasspocketd serve -data %[2]s\n", pockets(c.Pockets), data)
	return nil
}

func pockets(n int) string {
	if n == 1 {
		return "1 pocket"
	}
	return fmt.Sprintf("%d pockets", n)
}
