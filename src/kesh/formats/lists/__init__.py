"""Lists as people keep them: any separator, any encoding, headers and figures in their own words; every row is accounted for."""
