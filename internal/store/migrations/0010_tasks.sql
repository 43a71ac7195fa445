-- +goose Up

-- Background work: one row for each task.
CREATE TABLE tasks (
  id           INTEGER PRIMARY KEY,
  kind         TEXT NOT NULL,
  key          TEXT NOT NULL DEFAULT '',     -- what it does; one that waits or runs is enough
  customer_id  TEXT NOT NULL DEFAULT '',     -- whose turn it takes
  job          TEXT NOT NULL DEFAULT '',     -- the job that it is a part of
  number       INTEGER NOT NULL DEFAULT 0,   -- within the job
  of           TEXT NOT NULL DEFAULT '',     -- what it is about, for people
  about        BLOB NOT NULL DEFAULT X'',    -- JSON in the kind's own form
  created_at   DATETIME NOT NULL,
  by           TEXT NOT NULL DEFAULT '',
  due          DATETIME NOT NULL,
  attempts     INTEGER NOT NULL DEFAULT 0,
  lease        TEXT NOT NULL DEFAULT '',     -- who is doing it
  leased_until DATETIME,
  ended_at     DATETIME,
  outcome      TEXT NOT NULL DEFAULT '',     -- '' until it ends, then "done", "failed" or "cancelled"
  why          TEXT NOT NULL DEFAULT '',
  hint         TEXT NOT NULL DEFAULT '',
  made         TEXT NOT NULL DEFAULT ''
);
CREATE UNIQUE INDEX tasks_key ON tasks(kind, key) WHERE key <> '' AND ended_at IS NULL;
CREATE INDEX tasks_due ON tasks(kind, due) WHERE ended_at IS NULL AND lease = '';
CREATE INDEX tasks_turn ON tasks(kind, customer_id, due, id) WHERE ended_at IS NULL AND lease = '';
CREATE INDEX tasks_leased ON tasks(lease) WHERE lease <> '';
CREATE INDEX tasks_of_job ON tasks(job, outcome, number) WHERE job <> '';
CREATE INDEX tasks_ended ON tasks(kind, ended_at) WHERE ended_at IS NOT NULL;
CREATE INDEX tasks_failed ON tasks(id) WHERE outcome = 'failed';

-- The pockets of a job, and the schedules that wait, are tasks.
INSERT INTO tasks (kind, customer_id, job, number, of, about, created_at, by, due, ended_at, outcome, why, hint, made)
  SELECT 'pocket', j.customer_id, i.job, i.number, i.key, i.ask, j.created_at, j.by, j.created_at,
    CASE WHEN i.outcome <> '' THEN coalesce(j.ended_at, j.created_at) WHEN j.state <> 'running' THEN j.ended_at END,
    CASE WHEN i.outcome <> '' THEN i.outcome WHEN j.state <> 'running' THEN 'cancelled' ELSE '' END, i.why, i.hint, i.made
  FROM job_items AS i JOIN jobs AS j ON j.id = i.job;
DROP TABLE job_items;
INSERT INTO tasks (kind, key, customer_id, of, created_at, by, due) SELECT 'schedule', id, customer_id, key, created_at, by, due FROM schedules WHERE ended_at IS NULL;
DROP INDEX schedules_waiting;
