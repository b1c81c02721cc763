"""What the sewn shape will be: cloth moves under thread, and every stitch is put where it is at that moment."""
