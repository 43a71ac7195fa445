package app

import (
	"context"
	"fmt"
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

// roomFor refuses more pockets than a customer's users may create.
func (a *App) roomFor(ctx context.Context, s Scope, customer string, more int) error {
	if s.Operator() {
		return nil
	}
	has, err := a.store.Usage(ctx, customer)
	if err == nil && has.Pockets+more > PocketsMost {
		return &Error{Kind: Conflict, Code: "too-many-pockets", What: fmt.Sprintf("This account has %s, and %d more would exceed its limit of %d.", counted(has.Pockets, "pocket"), more, PocketsMost), Hint: "Delete pockets that you no longer need, or ask the operator to make these."}
	}
	return err
}

// roomForAsset refuses more uploads than a customer's users may store.
func (a *App) roomForAsset(ctx context.Context, s Scope, customer string) error {
	if s.Operator() {
		return nil
	}
	has, err := a.store.Usage(ctx, customer)
	if err == nil && (has.Assets >= AssetsMost || has.AssetBytes >= AssetBytesMost) {
		return &Error{Kind: Conflict, Code: "too-many-assets", What: fmt.Sprintf("This account has reached its limit for uploads: %d files or %d MB.", AssetsMost, AssetBytesMost>>20), Hint: "Delete files that no pocket uses, or ask the operator."}
	}
	return err
}

// roomForJob refuses more concurrent jobs than a customer's users may run.
func (a *App) roomForJob(ctx context.Context, s Scope) error {
	if s.Operator() {
		return nil
	}
	has, err := a.store.Usage(ctx, s.CustomerID)
	if err == nil && has.RunningJobs >= RunningJobsMost {
		return &Error{Kind: Conflict, Code: "too-many-jobs", What: fmt.Sprintf("This account has %d jobs running.", has.RunningJobs), Hint: "Wait until one finishes, or cancel one."}
	}
	return err
}
