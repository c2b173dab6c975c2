module restbend

go 1.26.0

require (
	github.com/goccy/go-yaml v1.19.2
	github.com/santhosh-tekuri/jsonschema/v6 v6.0.3
)

require (
	github.com/alecthomas/kong v1.17.0 // indirect
	golang.org/x/text v0.43.0 // indirect
)
