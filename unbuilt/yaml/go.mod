module github.com/goccy/go-yaml

go 1.26.0
