"""What artists do: use-cases on the store and the core, without HTTP and without the queue. Typed rows in, typed results out."""
