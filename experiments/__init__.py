"""What a real mat shows, asked of the engine: each experiment is tested and written up in docs/experiments.md."""
