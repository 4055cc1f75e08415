"""Drawing by hand: what each tool makes of clicks and of the values typed beside the cursor."""
