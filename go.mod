module restbend

go 1.26

require (
	github.com/goccy/go-yaml v1.19.2 // indirect
	github.com/stretchr/testify v1.12.1 // indirect
)
