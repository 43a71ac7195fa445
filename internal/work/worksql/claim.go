package worksql

import (
	"cmp"
	"context"
	"encoding/json"
	"slices"
	"time"

	"github.com/jmoiron/sqlx"

	"glasspocket/internal/store"
	"glasspocket/internal/work"
)

const (
	waiting = "kind = ? AND ended_at IS NULL AND lease = ''"
	due     = waiting + " AND due <= ?"
)

// fewDue: up to so many due tasks of a kind are all looked at. If there are more, looking at all of
// them for each claim would take longer than doing them.
const fewDue = 200

// dueTask is a due task, and whose turn it takes.
type dueTask struct {
	ID       int64
	Customer string `db:"customer_id"`
}

// ClaimTasks implements work.Store.
func (s *WorkStore) ClaimTasks(ctx context.Context, kind, after string, most int, lease string, now, until time.Time) (list []work.Task, err error) {
	// Most of the time nothing is due, and nothing needs to be written.
	found, err := s.dueTasks(ctx, kind, after, most, now)
	if err != nil || len(found) == 0 {
		return nil, store.Translated(err)
	}
	order := map[int64]int{}
	var ids []int64
	for _, t := range inTurn(found, after, most) {
		order[t.ID] = len(ids)
		ids = append(ids, t.ID)
	}
	these, err := json.Marshal(ids)
	if err != nil {
		return nil, err
	}
	err = s.Write(ctx, func(tx *sqlx.Tx) error {
		list = nil
		// Since they were read, somebody may have cancelled or postponed some of them.
		return tx.Select(&list, "UPDATE tasks SET lease = ?, leased_until = ?, attempts = attempts + 1 WHERE id IN (SELECT value FROM json_each(?)) AND ended_at IS NULL AND lease = '' AND due <= ? RETURNING *", lease, store.UTC(until), string(these), store.UTC(now))
	})
	slices.SortFunc(list, func(a, b work.Task) int { return order[a.ID] - order[b.ID] })
	return list, err
}

// dueTasks returns tasks that are due, for each customer the oldest ones first: all of them, or at
// least as many as can be claimed of each customer whose turn it is.
func (s *WorkStore) dueTasks(ctx context.Context, kind, after string, most int, now time.Time) (list []dueTask, err error) {
	if err := s.Read.SelectContext(ctx, &list, "SELECT id, customer_id FROM tasks WHERE "+due+" ORDER BY due, id LIMIT ?", kind, store.UTC(now), fewDue); err != nil || len(list) < fewDue {
		return list, err
	}
	customers, err := s.waitingCustomers(ctx, kind, after, most, now)
	if err != nil {
		return nil, err
	}
	list = nil
	for _, c := range customers {
		var of []dueTask
		if err := s.Read.SelectContext(ctx, &of, "SELECT id, customer_id FROM tasks WHERE "+due+" AND customer_id = ? ORDER BY due, id LIMIT ?", kind, store.UTC(now), c, most); err != nil {
			return nil, err
		}
		list = append(list, of...)
	}
	return list, nil
}

// waitingCustomers returns up to most customers with due tasks: those after one, then those from the
// beginning. It steps from customer to customer in the index, over all their tasks. The service's own
// tasks have the customer "".
func (s *WorkStore) waitingCustomers(ctx context.Context, kind, after string, most int, now time.Time) (list []string, err error) {
	for _, from := range []string{after + "\x00", ""} { // the first text after it, then the first of all
		var some []string
		err := s.Read.SelectContext(ctx, &some, `WITH RECURSIVE waiting(customer) AS (
				SELECT min(customer_id) FROM tasks WHERE `+waiting+` AND customer_id >= ?
				UNION ALL SELECT (SELECT min(customer_id) FROM tasks WHERE `+waiting+` AND customer_id > customer) FROM waiting WHERE customer IS NOT NULL)
			SELECT customer FROM waiting WHERE EXISTS (SELECT 1 FROM tasks WHERE `+due+` AND customer_id = customer) LIMIT ?`, kind, from, kind, kind, store.UTC(now), most)
		if err != nil {
			return nil, err
		}
		for _, c := range some {
			if len(list) < most && !slices.Contains(list, c) {
				list = append(list, c)
			}
		}
		if len(list) == most {
			break
		}
	}
	return list, nil
}

// inTurn chooses up to most tasks: one of each customer, beginning after one, then the next of each.
func inTurn(list []dueTask, after string, most int) []dueTask {
	type place struct {
		dueTask
		round int
	}
	places := make([]place, len(list))
	rounds := map[string]int{}
	for i, t := range list {
		places[i] = place{t, rounds[t.Customer]}
		rounds[t.Customer]++
	}
	turn := func(customer string) int { // those after it, then the others
		if customer > after {
			return 0
		}
		return 1
	}
	slices.SortStableFunc(places, func(a, b place) int {
		return cmp.Or(a.round-b.round, turn(a.Customer)-turn(b.Customer), cmp.Compare(a.Customer, b.Customer))
	})
	chosen := make([]dueTask, 0, most)
	for _, p := range places[:min(most, len(places))] {
		chosen = append(chosen, p.dueTask)
	}
	return chosen
}
