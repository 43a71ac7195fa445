package user

import (
	"time"

	"glasspocket/internal/app/access"
)

// User can sign in.
type User struct {
	ID           int64       `db:"id"`
	Name         string      `db:"name"`
	Role         access.Role `db:"role"`
	CustomerID   string      `db:"customer_id"` // "" for the operator's users
	PasswordHash string      `db:"password_hash"`
	CreatedAt    time.Time   `db:"created_at"`
}
