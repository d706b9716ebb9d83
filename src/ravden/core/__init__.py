"""The pure core: records and arrays in, records and arrays out. No Qt, no files, no clock."""
