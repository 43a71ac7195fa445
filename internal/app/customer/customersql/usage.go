package customersql

import (
	"context"

	"glasspocket/internal/app/customer"
	"glasspocket/internal/store"
)

// Usage implements customer.Store.
func (s *CustomerStore) Usage(ctx context.Context, customer string) (u customer.Usage, err error) {
	return u, store.Translated(s.Read.GetContext(ctx, &u, `SELECT (SELECT count(*) FROM pockets WHERE customer_id = ?1) AS pockets,
		(SELECT count(*) FROM assets WHERE customer_id = ?1) AS assets,
		(SELECT coalesce(sum(form.value ->> 'bytes'), 0) FROM assets, json_each(CAST(assets.info AS TEXT), '$.forms') AS form WHERE customer_id = ?1) AS asset_bytes,
		(SELECT count(*) FROM jobs WHERE customer_id = ?1 AND state = 'running') AS running_jobs`, customer))
}
