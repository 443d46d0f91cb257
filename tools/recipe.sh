# Two web machines after deploy/, on loopback ports, for tests and measurements. Sourced after setup.sh.

need_recipe_packages() {
    local missing=()
    [ -x /usr/sbin/nginx ] || missing+=(nginx-light)
    [ -x /usr/sbin/php-fpm8.2 ] || missing+=(php8.2-fpm)
    [ ${#missing[@]} -eq 0 ] && return 0
    say "Installing Debian packages: ${missing[*]}"
    quietly 'Reading the package lists' as_root apt-get update -q
    # Only the programs are wanted here, not services that run.
    quietly "Installing ${missing[*]}" as_root env DEBIAN_FRONTEND=noninteractive RUNLEVEL=1 apt-get install -y -q --no-install-recommends "${missing[@]}"
}

certificate() {
    [ -f "$STATE_DIR/tls.key" ] || php -r '
        $key = openssl_pkey_new(["private_key_type" => OPENSSL_KEYTYPE_EC, "curve_name" => "prime256v1"]);
        $crt = openssl_csr_sign(openssl_csr_new(["CN" => "127.0.0.1"], $key), null, $key, 30, [], 1);
        umask(0077); openssl_pkey_export_to_file($key, $argv[1].".key"); openssl_x509_export_to_file($crt, $argv[1].".crt");' "$STATE_DIR/tls"
}

# The units, read by the system's own reader where there is one: it says what it would not take or not know.
look_at_units() {
    [ -x /usr/bin/systemd-analyze ] || { say 'No systemd here: the units are not looked at.'; return 0; }
    deploy/render "$STATE_DIR/units" ROOT="$ROOT" USER="$(id -un)" STATE_DIR="$STATE_DIR" BACKUPS="$STATE_DIR/backups" >/dev/null
    local told
    told=$(systemd-analyze verify --man=no --recursive-errors=no "$STATE_DIR"/units/systemd/* 2>&1) && [ -z "$told" ] || fail "The units: $told"
}

# And started, by a systemd of their own: they run in what they are shut in, come back after a kill, and the backup writes its file.
try_units() {
    if [ "$(id -u)" != 0 ] || [ ! -x /usr/lib/systemd/systemd ] || [ "$(cat /proc/1/comm)" = systemd ]; then
        say 'The units are not started here: that takes root, a systemd, and a machine that none keeps.'
        return 0
    fi
    local wanted
    mkdir -p "$STATE_DIR/backups"
    rm -f "$STATE_DIR"/backups/*
    sed -i "s/^Environment=APP_ENV=prod/Environment=APP_ENV=$APP_ENV/" "$STATE_DIR"/units/systemd/*.service
    # Who tries a checkout in a place that the units shut out does not see it from within.
    case $ROOT in /tmp/* | /var/tmp/* | /home/* | /root/*) sed -i '/^\(PrivateTmp\|ProtectHome\)=/d' "$STATE_DIR"/units/systemd/*.service ;; esac
    tools/units.sh "$STATE_DIR/units/systemd" "$STATE_DIR" "$STATE_DIR/units.report"
    wanted='lab: active, still the first process
lab after a kill: active
worker: active, still the first process
worker after a kill: active
files: active, still the first process
files after a kill: active
backup: success, 1 file
stopped: inactive inactive inactive'
    [ "$(cat "$STATE_DIR/units.report")" = "$wanted" ] || fail "The units, started: $(cat "$STATE_DIR/units.report")"
    say 'The units run as they are written: started, killed, started again by systemd, a backup made, stopped.'
}

# start_machine NUMBER HTTPS-PORT HTTP-PORT
start_machine() {
    local n=$1 dir=$STATE_DIR/machine-$1 user
    user=$(id -un)
    mkdir -p "$dir/run" "$dir/log" "$dir/tmp"
    chmod 0750 "$dir/log"
    deploy/render "$dir" ROOT="$ROOT" USER="$user" WEBUSER="$user" STATE_DIR="$STATE_DIR" NAME=127.0.0.1 CHILDREN=4 HTTPS="127.0.0.1:$2" HTTP="127.0.0.1:$3" \
        CERTIFICATE="$STATE_DIR/tls.crt" KEY="$STATE_DIR/tls.key" RUN="$dir/run" LOG="$dir/log" >/dev/null
    sed -i -E "s/^env\[APP_ENV\] = .*/env[APP_ENV] = $APP_ENV/" "$dir/php/pool.conf"
    { printf '[global]\nerror_log = %s/log/fpm.log\ndaemonize = no\n' "$dir"; cat "$dir/php/pool.conf"; } >"$dir/php/fpm.conf"
    {
        [ "$user" != root ] || printf 'user root;\n'
        printf 'daemon off;\nworker_processes 1;\npid %s/run/nginx.pid;\nerror_log %s/log/error.log warn;\nevents { worker_connections 1024; }\nhttp {\ninclude /etc/nginx/mime.types;\n' "$dir" "$dir"
        for temp in client_body proxy fastcgi uwsgi scgi; do printf '%s_temp_path %s/tmp/%s;\n' "$temp" "$dir" "$temp"; done
        printf 'include %s/nginx/site.conf;\n}\n' "$dir"
    } >"$dir/nginx/nginx.conf"
    quietly 'Looking at what nginx was told' /usr/sbin/nginx -t -q -c "$dir/nginx/nginx.conf"
    PHP_INI_SCAN_DIR=":$dir/php" start "php-$n" /usr/sbin/php-fpm8.2 $([ "$user" = root ] && printf '%s' -R) -F -y "$dir/php/fpm.conf"
    start "nginx-$n" /usr/sbin/nginx -c "$dir/nginx/nginx.conf"
    start "worker-$n" php bin/console vorhut:outpost
}

stop_machine() { for part in worker nginx php; do stop "$part-$1"; done; }
