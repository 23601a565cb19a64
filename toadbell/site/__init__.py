"""Django project: settings, the one API, the page that carries the browser application."""
