package delivery

// IsKey reports whether text has the form of a pocket's public key: 3 to 64 lower-case letters,
// digits and hyphens, not starting with a hyphen. It runs in every request, so it avoids a regular
// expression.
func IsKey(text string) bool {
	if len(text) < 3 || len(text) > 64 || text[0] == '-' {
		return false
	}
	for i := range len(text) {
		if c := text[i]; (c < 'a' || c > 'z') && (c < '0' || c > '9') && c != '-' {
			return false
		}
	}
	return true
}
