"""From a design to its sew-out: order, connections, trims; the proof, the estimates, the stand-in machine."""
