# To be sourced at the top of the project: starts the kept cluster and writes var/tobbix.env for the programs.
database=$(scripts/cluster.sh start "$PWD/var/cluster")
[ -f var/secret_key ] || (umask 077 && python3 -c 'import secrets; print(secrets.token_hex(32))' >var/secret_key)
(umask 077 && printf 'TOBBIX_DATABASE_URL=%s\nTOBBIX_SECRET_KEY=%s\n' "$database" "$(cat var/secret_key)" >var/tobbix.env.new)
mv var/tobbix.env.new var/tobbix.env
unset database
