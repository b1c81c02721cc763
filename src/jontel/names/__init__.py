"""Names by the list: one design sewn for every row of a table, on one core, on all of them or on a cluster."""
