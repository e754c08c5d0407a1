package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"

	"zestysketch/internal/identity"
	"zestysketch/internal/store"
)

// accountsFile is where a school has accounts of its teachers, as --oidc-file says it.
type accountsFile struct {
	School    string         `json:"school"` // may be empty where there is one
	Providers []accountsFrom `json:"providers"`
	Only      bool           `json:"only"` // passwords let nobody in
}

type accountsFrom struct {
	Name       string   `json:"name"`
	Issuer     string   `json:"issuer"`
	ClientID   string   `json:"client_id"`
	Secret     string   `json:"secret"`
	SecretFile string   `json:"secret_file"` // instead of secret; beside the file, where it is no whole path
	Domains    []string `json:"domains"`
	Admin      string   `json:"admin"` // claim=value
}

// readAccounts reads the file; what it does not know in it is an error, for it may be misspelt.
func readAccounts(path string) (f accountsFile, err error) {
	file, err := os.Open(path)
	if err != nil {
		return f, err
	}
	defer file.Close()
	in := json.NewDecoder(io.LimitReader(file, 1<<20))
	in.DisallowUnknownFields()
	if err := in.Decode(&f); err != nil {
		return f, fmt.Errorf("--oidc-file: %s: %w", path, err)
	}
	for i := range f.Providers {
		p := &f.Providers[i]
		if err := identity.CheckIssuer(p.Issuer); err != nil {
			return f, fmt.Errorf("--oidc-file: issuer: %w", err)
		}
		if p.Name == "" || p.ClientID == "" {
			return f, fmt.Errorf("--oidc-file: wanted name and client_id of %s", p.Issuer)
		}
		if p.SecretFile == "" {
			continue
		}
		if !filepath.IsAbs(p.SecretFile) {
			p.SecretFile = filepath.Join(filepath.Dir(path), p.SecretFile)
		}
		secret, err := os.ReadFile(p.SecretFile)
		if err != nil {
			return f, fmt.Errorf("--oidc-file: secret_file: %w", err)
		}
		p.Secret = strings.TrimSpace(string(secret))
	}
	return f, nil
}

// keepAccounts keeps what --oidc-file says; those of a school that it does not name stay. Before
// there is a school it has nothing to do.
func keepAccounts(ctx context.Context, db *store.Store, path string) error {
	if path == "" {
		return nil
	}
	f, err := readAccounts(path)
	if err != nil {
		return err
	}
	place, err := schoolNamed(ctx, db, f.School)
	if errors.Is(err, store.ErrNotFound) && f.School == "" {
		return nil
	}
	if err != nil {
		return fmt.Errorf("--oidc-file: %w", err)
	}
	there, err := db.IdentityProviders(ctx, place.ID)
	if err != nil {
		return err
	}
	for _, from := range f.Providers {
		p := store.IdentityProvider{SchoolID: place.ID, Name: from.Name, Issuer: from.Issuer, ClientID: from.ClientID, Secret: from.Secret, Domains: strings.Join(from.Domains, ", ")}
		p.AdminClaim, p.AdminValue, _ = strings.Cut(from.Admin, "=")
		for _, old := range there {
			if old.Issuer == p.Issuer && old.ClientID == p.ClientID {
				p.ID = old.ID
			}
		}
		if _, err := db.KeepIdentityProvider(ctx, p); err != nil {
			return err
		}
	}
	return db.SetAccountsOnly(ctx, place.ID, f.Only && len(f.Providers) > 0)
}

// schoolNamed returns the school of a name, or the one there is where none is named.
func schoolNamed(ctx context.Context, db *store.Store, name string) (store.School, error) {
	all, err := db.Schools(ctx)
	if err != nil {
		return store.School{}, err
	}
	var names []string
	for _, s := range all {
		if s.Name == name || name == "" && len(all) == 1 {
			return s.School, nil
		}
		names = append(names, s.Name)
	}
	if len(all) == 0 {
		return store.School{}, store.ErrNotFound
	}
	return store.School{}, fmt.Errorf("wanted one of %s, got %q", strings.Join(names, ", "), name)
}
