//! Benchmarks stand in `benches`: `cargo bench -p cimento-benchmarks`.
