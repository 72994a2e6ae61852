"""The window's own views: each shows a value and says when it was edited, and knows neither document nor siblings."""
