#!/usr/bin/env bash
# The units of deploy/, started for real: a systemd that is the first process of namespaces of its own and knows these units and nothing else.
#   tools/units.sh UNITS STATE_DIR REPORT     as root, where no systemd keeps this machine (it would share that one's control groups)
# Called by bin/test recipe. Everything in it ends with it, and after a minute at the latest.
set -u
units=$1 state_dir=$2 report=$3
if [ "${4:-}" != inside ]; then
    : >"$report"
    unshare --pid --fork --kill-child --mount-proc --mount --ipc --uts "$0" "$units" "$state_dir" "$report" inside </dev/null >/dev/null 2>&1 9>&- &
    for _ in $(seq 240); do
        if grep -q '^stopped' "$report" || ! kill -0 $! 2>/dev/null; then break; fi
        sleep 0.25
    done
    kill -9 $! 2>/dev/null
    wait $! 2>/dev/null
    exit 0
fi
mount --make-rprivate /
mount -t tmpfs tmpfs /run
mkdir -p /run/lock /run/units
cp "$units"/* /run/units/
for target in sysinit basic shutdown network-online timers multi-user; do
    printf '[Unit]\nDescription=%s\nDefaultDependencies=no\n' "$target" >"/run/units/$target.target"
done
printf '[Unit]\nWants=vorhut-lab.service vorhut-worker.service vorhut-files.service\n' >/run/units/try.target
pid() { systemctl show -p MainPID --value "vorhut-$1"; }
state() { systemctl is-active "vorhut-$1"; }
told() { printf '%s\n' "$*" >>"$report"; }
try() {
    local part first
    for _ in $(seq 40); do [ "$(state lab) $(state worker) $(state files)" = 'active active active' ] && break; sleep 0.25; done
    for part in lab worker files; do
        first=$(pid "$part")
        # Long enough to have begun its work: what cannot write where it must has ended by then.
        sleep 3
        told "$part: $(state "$part"), $([ "$first" = "$(pid "$part")" ] && echo 'still the first process' || echo 'begun again')"
        kill -9 "$first"
        for _ in $(seq 40); do
            sleep 0.25
            case $(pid "$part") in 0 | "$first") ;; *) break ;; esac
        done
        told "$part after a kill: $(state "$part")"
    done
    systemctl start vorhut-backup.service
    told "backup: $(systemctl show -p Result --value vorhut-backup), $(find "$state_dir/backups" -name 'vorhut-*.jsonl.gz' -size +0 | wc -l) file"
    systemctl stop vorhut-lab vorhut-worker vorhut-files
    told "stopped: $(state lab) $(state worker) $(state files)"
}
export SYSTEMD_UNIT_PATH=/run/units SYSTEMD_GENERATOR_PATH=/nowhere SYSTEMD_ENVIRONMENT_GENERATOR_PATH=/nowhere container=vorhut
try </dev/null >/dev/null 2>&1 &
exec /usr/lib/systemd/systemd --system --unit=try.target --log-target=null
