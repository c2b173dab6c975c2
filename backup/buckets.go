//go:build s3

package backup

import _ "github.com/benbjohnson/litestream/s3" // registers s3://

func init() { buckets = true }
