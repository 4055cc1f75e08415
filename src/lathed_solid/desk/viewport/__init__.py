"""The part view: the kernel's own viewer inside a Qt widget."""
