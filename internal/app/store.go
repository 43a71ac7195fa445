package app

import (
	"context"

	"glasspocket/internal/app/audit"
	"glasspocket/internal/app/audit/auditsql"
	"glasspocket/internal/app/bulk"
	"glasspocket/internal/app/bulk/bulksql"
	"glasspocket/internal/app/customer"
	"glasspocket/internal/app/customer/customersql"
	"glasspocket/internal/app/delivery"
	"glasspocket/internal/app/delivery/deliverysql"
	"glasspocket/internal/app/guest"
	"glasspocket/internal/app/guest/guestsql"
	"glasspocket/internal/app/install"
	"glasspocket/internal/app/install/installsql"
	"glasspocket/internal/app/pocket"
	"glasspocket/internal/app/pocket/pocketsql"
	"glasspocket/internal/app/portable"
	"glasspocket/internal/app/publish"
	"glasspocket/internal/app/publish/publishsql"
	"glasspocket/internal/app/release"
	"glasspocket/internal/app/release/releasesql"
	"glasspocket/internal/app/rollout"
	"glasspocket/internal/app/rollout/rolloutsql"
	"glasspocket/internal/app/source"
	"glasspocket/internal/app/source/sourcesql"
	"glasspocket/internal/app/task"
	"glasspocket/internal/app/task/tasksql"
	"glasspocket/internal/app/user"
	"glasspocket/internal/app/user/usersql"
	"glasspocket/internal/app/workshop"
	"glasspocket/internal/app/workshop/workshopsql"
	"glasspocket/internal/store"
	"glasspocket/internal/work"
	"glasspocket/internal/work/worksql"
)

// Store is the storage of all subjects. Each sees only the part that it asks for.
type Store interface {
	audit.Store
	user.Store
	release.Store
	customer.Store
	delivery.Store
	pocket.Store
	publish.Store
	portable.Store
	guest.Store
	workshop.Store
	rollout.Store
	source.Store
	install.Store
	bulk.Store
	work.Store
	task.Store
}

// tables has every subject's store in one database.
type tables struct {
	*auditsql.AuditStore
	*usersql.UserStore
	*releasesql.ReleaseStore
	*customersql.CustomerStore
	*deliverysql.DeliveryStore
	*pocketsql.PocketStore
	*publishsql.PublishStore
	*guestsql.GuestStore
	*workshopsql.WorkshopStore
	*rolloutsql.RolloutStore
	*sourcesql.SourceStore
	*installsql.InstallStore
	*bulksql.BulkStore
	*worksql.WorkStore
	*tasksql.TaskStore
}

// StoreIn returns the storage of all subjects in a database. Call it once, before the database is
// used concurrently.
func StoreIn(ctx context.Context, db *store.DB) (Store, error) {
	t := tables{UserStore: usersql.New(db), ReleaseStore: releasesql.New(db), CustomerStore: customersql.New(db), PocketStore: pocketsql.New(db), GuestStore: guestsql.New(db),
		WorkshopStore: workshopsql.New(db), RolloutStore: rolloutsql.New(db), SourceStore: sourcesql.New(db), BulkStore: bulksql.New(db), WorkStore: worksql.New(db), TaskStore: tasksql.New(db)}
	var err error
	if t.AuditStore, err = auditsql.New(db); err != nil {
		return nil, err
	}
	if t.DeliveryStore, err = deliverysql.New(db); err != nil {
		return nil, err
	}
	if t.PublishStore, err = publishsql.New(db); err != nil {
		return nil, err
	}
	if t.InstallStore, err = installsql.New(ctx, db); err != nil {
		return nil, err
	}
	return t, nil
}
