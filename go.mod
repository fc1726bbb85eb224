module zephyrfield

go 1.26
