package main

import (
	"os"
	"zephyrfield/internal/exchange/wire"
)

func main() {
	if wire.One(os.Stdin, os.Stdout) != nil {
		os.Exit(2)
	}
}
