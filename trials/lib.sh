# Shared by the trials: a private database that keeps what it confirmed, and the program. Source it from the project's
# root.
. scripts/lib.sh

work=$(mktemp -d /tmp/zealous-lane-trial.XXXXXX)
chmod 755 "$work"
# Ends what a trial started.
stop_trial() {
  trap - EXIT INT TERM
  [ -n "${trial:-}" ] && kill "$trial" 2>/dev/null && wait "$trial" 2>/dev/null
  stop_database
  rm -rf "$work"
}
trap stop_trial EXIT
trap 'exit 130' INT
trap 'exit 143' TERM

# Builds the program and starts the database.
prepare_trial() {
  need_tools
  say "Building"
  [ -f web/dist/index.html ] || build_pages
  SQLX_OFFLINE=true cargo build --quiet -p zealous-lane || fail "The program was not built; the lines above say why."
  start_database "$work/db"
  make_database trial
  # A copy, so that a build meanwhile does not change what is tried.
  cp target/debug/zealous-lane "$work/zealous-lane"
  export ZL_PROGRAM="$work/zealous-lane" ZL_DATABASE="$DATABASE_BASE/trial" ZEALOUS_LANE_LOG=warn ZL_CLUSTER="$work/db/cluster"
  # Stopped at once, as by a fault, and started with the same settings.
  export ZL_RESTART_DATABASE="$work/restart"
  printf '#!/bin/bash\ncd /\nexec %s %s restart -D %s -m immediate -w -t 60 -l %s >/dev/null\n' \
    "$([ "$(id -u)" = 0 ] && echo 'setpriv --reuid=postgres --regid=postgres --clear-groups env HOME=/tmp')" \
    "$(pg_bin)/pg_ctl" "$work/db/cluster" "$work/db/postgres.log" > "$ZL_RESTART_DATABASE"
  chmod 755 "$ZL_RESTART_DATABASE"
}

run_trial() {
  node "$@" &
  trial=$!
  wait "$trial"
}
