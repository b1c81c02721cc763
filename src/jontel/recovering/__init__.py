"""From needle movements back to objects: what they cover, what lies beneath, outline, angle, spacing."""
