-- The database and its two roles. Run by a superuser, once:
--   psql -v owner_password=... -v server_password=... -f deploy/database.sql
-- Tables and what the server may in them come from `prepare --serve-as jungoptic_server`.
\set ON_ERROR_STOP on
\if :{?database}
\else
\set database jungoptic
\endif

create role jungoptic_owner login nosuperuser nocreatedb nocreaterole password :'owner_password';
create role jungoptic_server login nosuperuser nocreatedb nocreaterole password :'server_password';
create database :database owner jungoptic_owner encoding 'UTF8' template template0;
revoke connect, temporary on database :database from public;
grant connect on database :database to jungoptic_server;
