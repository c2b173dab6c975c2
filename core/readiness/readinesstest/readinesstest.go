// Package readinesstest gives tests the limits of clients who were asked about warning signs
// and have none, so that a test of something else need not say so.
package readinesstest

import (
	"restbend/core/civil"
	"restbend/core/limit"
	"restbend/core/readiness"
)

// Asked is the client with all warning signs asked about and none there, unless some are.
func Asked(c limit.Client) limit.Client {
	if c.RedFlags == nil {
		c.RedFlags = []string{}
	}
	return c
}

// Limits are those of a session that is planned for a client who was asked.
func Limits(c limit.Client, r *readiness.Rules, day civil.Day) readiness.Limits {
	return r.Limits(Asked(c), nil, nil, day, readiness.Plan)
}
