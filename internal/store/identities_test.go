package store

import (
	"context"
	"sync"
	"testing"

	"zestysketch/internal/mariadb/mariadbtest"
)

// Somebody new who signs in on several machines at the same moment is one teacher, and in on each.
func TestFirstSignInsAtOnce(t *testing.T) {
	ctx := context.Background()
	s, err := Open(ctx, mariadbtest.DSN(t))
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	owner, err := s.AddTeacher(ctx, "Quay", "owner@quay.example", "Owner", "a long password")
	if err != nil {
		t.Fatal(err)
	}
	p, err := s.KeepIdentityProvider(ctx, IdentityProvider{SchoolID: owner.SchoolID, Name: "Quay", Issuer: "https://a.example", ClientID: "z", Domains: "@quay.example"})
	if err != nil {
		t.Fatal(err)
	}
	var all sync.WaitGroup
	ids := make([]uint64, 8)
	for i := range ids {
		all.Go(func() {
			one, err := s.SignInByAccount(ctx, p, Account{Subject: "s", Email: "New@Quay.example", Verified: true})
			if err != nil {
				t.Error(err)
			}
			ids[i] = one.ID
		})
	}
	all.Wait()
	for _, id := range ids {
		if id == 0 || id != ids[0] {
			t.Fatalf("they are %v; want one teacher", ids)
		}
	}
	if people, err := s.People(ctx, owner.SchoolID); err != nil || len(people) != 2 {
		t.Errorf("%d people, %v; want two", len(people), err)
	}
}
