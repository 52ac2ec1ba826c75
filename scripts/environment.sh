# To be sourced at the top of the project with the folder of an installation: starts its kept cluster and writes its
# tobbix.env for the programs. The demo's folder is var; any other is its owner's, with a backup of each day.
export TOBBIX_FOLDER=${TOBBIX_FOLDER:-var}
mkdir -p "$TOBBIX_FOLDER"
database=$(scripts/cluster.sh start "$PWD/$TOBBIX_FOLDER/cluster")
[ -f "$TOBBIX_FOLDER/secret_key" ] || (umask 077 && python3 -c 'import secrets; print(secrets.token_hex(32))' >"$TOBBIX_FOLDER/secret_key")
(umask 077 && printf 'TOBBIX_DATABASE_URL=%s\nTOBBIX_SECRET_KEY=%s\n' "$database" "$(cat "$TOBBIX_FOLDER/secret_key")" >"$TOBBIX_FOLDER/tobbix.env.new")
[ "$TOBBIX_FOLDER" = var ] || printf 'TOBBIX_OWN=true\nTOBBIX_BACKUPS=%s\n' "$PWD/$TOBBIX_FOLDER/backups" >>"$TOBBIX_FOLDER/tobbix.env.new"
mv "$TOBBIX_FOLDER/tobbix.env.new" "$TOBBIX_FOLDER/tobbix.env"
unset database
