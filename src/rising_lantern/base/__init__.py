"""What every layer uses: arguments of calls, files that are opened, registries, bisection."""
