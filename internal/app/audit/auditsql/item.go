package auditsql

import (
	"github.com/jmoiron/sqlx"

	"glasspocket/internal/problem"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
)

// FinishItem finishes an item of a job.
func FinishItem(tx *sqlx.Tx, i work.Item) error {
	r, err := tx.Exec("UPDATE job_items SET outcome = ?, made = ?, why = ?, hint = ?, ask = X'' WHERE job = ? AND number = ? AND outcome = ''", i.Outcome, i.Made, i.Why, i.Hint, i.Job, i.Number)
	if err := store.OneRow(r, err, problem.ErrChanged); err != nil {
		return err
	}
	done, failed := 1, 0
	if i.Outcome == work.Failed {
		done, failed = 0, 1
	}
	_, err = tx.Exec("UPDATE jobs SET done = done + ?, failed = failed + ? WHERE id = ?", done, failed, i.Job)
	return err
}
