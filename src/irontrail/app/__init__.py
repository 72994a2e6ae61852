"""The window: Qt Widgets over the core; nothing here is computed that the core could say."""

from irontrail.app.guard import guard_handlers

guard_handlers()
