//go:build s3

package copies

import _ "github.com/benbjohnson/litestream/s3" // registers s3://

func init() { buckets = true }
