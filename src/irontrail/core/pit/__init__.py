"""What goes to the table with the robot: a card, pages for judges, the event in order."""
