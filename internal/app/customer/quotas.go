package customer

import (
	"context"
	"fmt"

	"glasspocket/internal/app/access"
	"glasspocket/internal/problem"
)

// Quotas limit what a customer's users may store and run, because anybody can sign up if the
// gallery is open. They do not apply to the operator's users.
const (
	PocketsMost     = 1_000
	AssetsMost      = 2_000
	AssetBytesMost  = 1 << 30
	RunningJobsMost = 3
)

// Usage is what a customer has stored.
type Usage struct {
	Pockets     int   `db:"pockets"`
	Assets      int   `db:"assets"`
	AssetBytes  int64 `db:"asset_bytes"` // of all forms
	RunningJobs int   `db:"running_jobs"`
}

// RoomFor refuses more pockets than a customer's users may create.
func (a *Customers) RoomFor(ctx context.Context, s access.Scope, customer string, more int) error {
	if s.Operator() {
		return nil
	}
	has, err := a.store.Usage(ctx, customer)
	if err == nil && has.Pockets+more > PocketsMost {
		return &problem.Error{Kind: problem.Conflict, Code: "too-many-pockets", What: fmt.Sprintf("This account has %s, and %d more would exceed its limit of %d.", problem.Counted(has.Pockets, "pocket"), more, PocketsMost), Hint: "Delete pockets that you no longer need, or ask the operator to make these."}
	}
	return err
}

// roomForAsset refuses more uploads than a customer's users may store.
func (a *Customers) roomForAsset(ctx context.Context, s access.Scope, customer string) error {
	if s.Operator() {
		return nil
	}
	has, err := a.store.Usage(ctx, customer)
	if err == nil && (has.Assets >= AssetsMost || has.AssetBytes >= AssetBytesMost) {
		return &problem.Error{Kind: problem.Conflict, Code: "too-many-assets", What: fmt.Sprintf("This account has reached its limit for uploads: %d files or %d MB.", AssetsMost, AssetBytesMost>>20), Hint: "Delete files that no pocket uses, or ask the operator."}
	}
	return err
}

// RoomForJob refuses more concurrent jobs than a customer's users may run.
func (a *Customers) RoomForJob(ctx context.Context, s access.Scope) error {
	if s.Operator() {
		return nil
	}
	has, err := a.store.Usage(ctx, s.CustomerID)
	if err == nil && has.RunningJobs >= RunningJobsMost {
		return &problem.Error{Kind: problem.Conflict, Code: "too-many-jobs", What: fmt.Sprintf("This account has %d jobs running.", has.RunningJobs), Hint: "Wait until one finishes, or cancel one."}
	}
	return err
}
