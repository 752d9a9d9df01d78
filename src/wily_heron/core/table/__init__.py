"""The cutting table: flat panels, their seams, and sewing them together on a wearer."""
