#!/usr/bin/env bash
# A routine over many captures on one machine: one process against several, shards under GNU parallel, and an array of eight under
# Debian's batch engine (controller and node on loopback), one task of it killed and run again. Needs root, and Debian's packages
# slurm-wlm and parallel; sets up and takes down all that it uses. Not part of .ci/run.
# Usage: many-machines.sh [captures, 1000 when left out]
set -euo pipefail
here=$(cd "$(dirname "$0")/.." && pwd)
count=${1:-1000}
work=$(mktemp -d)
trap 'pkill -F "$work/slurmctld.pid" 2>/dev/null; pkill -F "$work/slurmd.pid" 2>/dev/null; pkill -x munged 2>/dev/null; rm -rf "$work"' EXIT
kneader="$here/bin/kneader"
routine="$work/thin.json"
cat >"$routine" <<'JSON'
{"format": "kneader-routine", "version": 1, "name": "Thin", "steps": [
  {"edit": "clean.unwrap", "options": {}, "on": "everything"},
  {"edit": "clean.thin", "options": {"rotation": 2}, "on": "everything"}]}
JSON
# Twelve frames of the open capture each, from another place of it.
mkdir "$work/in"
awk -v count="$count" -v into="$work/in" '
  motion { frames[n++] = $0; next }
  /^Frame Time/ { time = $0; motion = 1; next }
  /^Frames:/ { next }
  { head = head $0 "\n" }
  END { for (i = 0; i < count; i++) {
    file = sprintf("%s/take %04d.bvh", into, i); printf "%sFrames: 12\n%s\n", head, time > file
    for (k = 0; k < 12; k++) print frames[(i * 2 + k) % n] > file
    close(file) } }' /usr/share/assimp/models/BVH/01_01.bvh
ls "$work"/in/*.bvh >"$work/list"
"$kneader" edits >/dev/null

run() { # NAME COMMAND…: seconds by the clock
  local name=$1 began ended
  shift
  began=$(date +%s.%N)
  "$@" >"$work/$name.log" 2>&1 || { tail -5 "$work/$name.log"; exit 1; }
  ended=$(date +%s.%N)
  awk -v name="$name" -v a="$began" -v b="$ended" 'BEGIN { printf "%s: %.1f s\n", name, b - a }'
}
same() { cmp "$work/out/report.json" "$1" && echo "  its report is that of one run, to the byte"; }
array=("$here/bin/kneader-array" "$routine" "$work/list" "$work/out")

run "one process" "$kneader" routine "$routine" --list "$work/list" -o "$work/out" --report "$work/out.json"
cp "$work/out.json" "$work/out/report.json"
jobs=$(nproc)
run "$jobs threads" "$kneader" routine "$routine" --list "$work/list" -o "$work/out" --jobs "$jobs" --report "$work/threads.json"
same "$work/threads.json"

rm -rf "$work/out/.kneader-done"
run "$jobs shards, a process each" parallel -j "$jobs" KNEADER_PART={} KNEADER_PARTS="$jobs" "${array[@]@Q}" ::: $(seq "$jobs")
rm -rf "$work/out/.kneader-done"
run "$jobs of 16 shards at a time" parallel -j "$jobs" KNEADER_PART={} KNEADER_PARTS=16 "${array[@]@Q}" ::: $(seq 16)
"$kneader" report merge "$work"/out/reports/*-of-16.json -o "$work/parallel.json" >/dev/null
same "$work/parallel.json"

# The batch engine, on this machine alone.
host=$(hostname -s)
mkdir -p /run/munge "$work/spool" "$work/state"
[ -f /etc/munge/munge.key ] || dd if=/dev/urandom of=/etc/munge/munge.key bs=1024 count=1 status=none
chown -R munge: /etc/munge /run/munge 2>/dev/null || true
chmod 400 /etc/munge/munge.key
runuser -u munge -- munged --force
cat >"$work/slurm.conf" <<CONF
ClusterName=loopback
SlurmctldHost=$host(127.0.0.1)
SlurmUser=root
AuthType=auth/munge
ProctrackType=proctrack/pgid
TaskPlugin=task/none
SelectType=select/cons_tres
SelectTypeParameters=CR_Core
StateSaveLocation=$work/state
SlurmdSpoolDir=$work/spool
SlurmctldPidFile=$work/slurmctld.pid
SlurmdPidFile=$work/slurmd.pid
SlurmctldLogFile=$work/slurmctld.log
SlurmdLogFile=$work/slurmd.log
MailProg=/bin/true
ReturnToService=2
NodeName=$host NodeAddr=127.0.0.1 CPUs=$(nproc) State=UNKNOWN
PartitionName=all Nodes=$host Default=YES MaxTime=INFINITE State=UP
CONF
export SLURM_CONF="$work/slurm.conf"
slurmctld
slurmd
for _ in $(seq 30); do [ "$(sinfo -h -o %t 2>/dev/null)" = idle ] && break; sleep 1; done

rm -rf "$work/out/.kneader-done" "$work/out/reports"
began=$(date +%s.%N)
job=$(sbatch --parsable --array=1-8 -o "$work/task-%a.log" --wrap "${array[*]@Q}")
# One task is killed when it has done some of its files, and run again.
for _ in $(seq 600); do [ "$(cat "$work/out/.kneader-done/2-of-8.jsonl" 2>/dev/null | wc -l)" -ge 5 ] && break; sleep 0.1; done
scancel --signal=KILL --full "${job}_2" || true
while [ -n "$(squeue -h -j "$job" 2>/dev/null)" ]; do sleep 0.5; done
"$kneader" report merge "$work"/out/reports/*-of-8.json -o "$work/array.json" || true
SLURM_ARRAY_TASK_MIN=1 SLURM_ARRAY_TASK_COUNT=8 sbatch --parsable --wait --export=ALL,KNEADER_PART=2,KNEADER_PARTS=8 -o "$work/again.log" --wrap "${array[*]@Q}" >/dev/null
awk -v a="$began" -v b="$(date +%s.%N)" 'BEGIN { printf "array of 8, one killed and run again: %.1f s\n", b - a }'
echo "  done before in the second run: $(grep -c 'done before' "$work/again.log")"
"$kneader" report merge "$work"/out/reports/*-of-8.json -o "$work/array.json"
same "$work/array.json"
