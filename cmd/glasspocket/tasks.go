package main

import (
	"flag"
	"fmt"
	"strconv"
	"time"

	"glasspocket/internal/client"
)

// listTasks prints background tasks with what became of them.
func (s *session) listTasks(state string) error {
	out, err := s.api.Tasks(s.ctx, client.TaskQuery{State: state})
	if err != nil || s.json {
		return orPrint(s, err, out)
	}
	var rows [][]string
	for _, t := range out.Tasks {
		rows = append(rows, []string{strconv.FormatInt(t.ID, 10), t.Kind, t.Of, t.State, strconv.Itoa(t.Attempts), moment(t.Due), t.Why})
	}
	s.table("TASK | KIND | ABOUT | STATE | ATTEMPTS | DUE | WHY", rows, "There are no such tasks.")
	if out.Next != "" {
		fmt.Fprintln(s.out, "There are older ones. Use -state, or -json with the API.")
	}
	return nil
}

func moment(t time.Time) string { return t.Local().Format("2006-01-02 15:04:05") }

var runVerb = verb{
	arguments: "task ID", about: "Run a waiting background task now, or a failed one again",
	examples: []string{"run task 1", "run task 1 -json"},
	flags: func(*flag.FlagSet) func(*session) error {
		return func(s *session) error {
			if len(s.args) != 2 || s.args[0] != "task" {
				return usagef("name the task: run task ID. “glasspocket list tasks” shows the numbers")
			}
			id, err := strconv.ParseInt(s.args[1], 10, 64)
			if err != nil {
				return usagef("%q is not the number of a task. “glasspocket list tasks” shows them", s.args[1])
			}
			t, err := s.api.RunTask(s.ctx, id)
			if err != nil {
				return err
			}
			return s.done(t, "Task %d runs now.\n", t.ID)
		}
	},
}
