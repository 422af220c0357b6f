// Makes a database anew: node scripts/fresh-database.mjs SERVER NAME, where SERVER is the address of a PostgreSQL server's database.
import pg from 'pg'

const [server, name] = process.argv.slice(2)
const client = new pg.Client({ connectionString: server })
await client.connect()
await client.query(`drop database if exists "${name}" with (force)`)
await client.query(`create database "${name}" template template0`)
await client.end()
