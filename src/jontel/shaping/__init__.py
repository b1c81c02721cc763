"""What a hand does to shapes: bent, combined, copied, arranged, made other kinds; edits that need geometry."""
