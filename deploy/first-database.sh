#!/bin/sh
# Run once by the database's container, as its administrator: a user for the server that is no superuser, and the database that it owns.
set -eu
psql --set=ON_ERROR_STOP=1 --set=password="$OCHOTE_DB_PASSWORD" --username postgres <<'SQL'
create role ochote login password :'password';
create database ochote owner ochote template template0 encoding 'UTF8';
SQL
