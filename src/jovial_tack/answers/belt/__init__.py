"""Which belt, how it is measured, bought, seated and put on."""
