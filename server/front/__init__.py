"""What gathers all apps: the API, addresses and health. Nothing imports it but what starts the server."""
