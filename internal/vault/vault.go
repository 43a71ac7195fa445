// Package vault encrypts secrets that the service must be able to read again, such as tokens for
// other servers. The key is in a file beside the database, so that a copy of the database alone
// reveals nothing.
package vault

import (
	"crypto/aes"
	"crypto/cipher"
	"crypto/rand"
	"encoding/hex"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
)

// File is the name of the key file in the data folder.
const File = "secrets.key"

// Vault encrypts with AES-256-GCM (NIST SP 800-38D). It is safe for concurrent use.
type Vault struct{ gcm cipher.AEAD }

// New returns a Vault with a key of 32 bytes.
func New(key []byte) (*Vault, error) {
	block, err := aes.NewCipher(key)
	if err != nil {
		return nil, err
	}
	gcm, err := cipher.NewGCM(block)
	return &Vault{gcm}, err
}

// Open reads the key file, or makes one that only its owner can read.
func Open(path string) (*Vault, error) {
	text, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) {
		key := make([]byte, 32)
		rand.Read(key)
		text = []byte(hex.EncodeToString(key) + "\n")
		f, err := os.CreateTemp(filepath.Dir(path), File+".*") // only its owner can read it
		if err != nil {
			return nil, err
		}
		defer os.Remove(f.Name())
		_, err = f.Write(text)
		if err := errors.Join(err, f.Sync(), f.Close()); err != nil {
			return nil, err
		}
		if err := os.Rename(f.Name(), path); err != nil { // whole or not at all
			return nil, err
		}
	} else if err != nil {
		return nil, err
	}
	key, err := hex.DecodeString(strings.TrimSpace(string(text)))
	if err != nil || len(key) != 32 {
		return nil, fmt.Errorf("%s is not a key file: it must have 64 hexadecimal digits. Restore it from a backup. Without it, stored tokens have to be entered again", path)
	}
	return New(key)
}

// Seal encrypts a secret for one purpose, such as the ID of a source. Each call returns another
// ciphertext.
func (v *Vault) Seal(secret, purpose string) []byte {
	nonce := make([]byte, v.gcm.NonceSize())
	rand.Read(nonce)
	return v.gcm.Seal(nonce, nonce, []byte(secret), []byte(purpose))
}

// ErrSealed is returned for what this key has not encrypted for this purpose.
var ErrSealed = errors.New("the stored token cannot be read with the present key file")

// Unseal decrypts what Seal returned for the same purpose.
func (v *Vault) Unseal(sealed []byte, purpose string) (string, error) {
	if n := v.gcm.NonceSize(); len(sealed) > n {
		if secret, err := v.gcm.Open(nil, sealed[:n], sealed[n:], []byte(purpose)); err == nil {
			return string(secret), nil
		}
	}
	return "", ErrSealed
}
