"""The stages of a chart, which reports, pages and commands use without the chart itself."""
