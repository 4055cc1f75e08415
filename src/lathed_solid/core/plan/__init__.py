"""Before the first cut: what a part is made from, where its zero sits, which way is cheapest."""
