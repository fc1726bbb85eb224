// Package bson stands in the place of a library that is left out.
package bson

import "errors"

// ErrUnbuilt is told to who asks for it all the same.
var ErrUnbuilt = errors.New("BSON is not built in")

// Marshal writes nothing.
func Marshal(any) ([]byte, error) { return nil, ErrUnbuilt }

// Unmarshal reads nothing.
func Unmarshal([]byte, any) error { return ErrUnbuilt }
