#!/bin/sh
# Builds the program as it ships: without C, and without a wire format of the web library that
# nothing here speaks. Both would only take room on a small machine. Takes go build's flags.
CGO_ENABLED=0 exec go build -tags nomsgpack "$@" ./cmd/zephyrfield
