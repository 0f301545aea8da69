#!/usr/bin/env bash
# Both README commands on a bare Debian: a debootstrap root with nothing but python3, git and make. Needs root and debootstrap.
#   bash benchmarks/bare_debian.sh ROOT [root|user]     remove ROOT afterwards with: rm -rf --one-file-system ROOT
# As root everything is installed by make itself; as an ordinary user an administrator's apt line, as printed, comes first.
# What this machine needs to reach its package index (names, certificates, pip's settings) is lent to the root.
set -euo pipefail
root=$1
who=${2:-root}
here=$(cd "$(dirname "$0")/.." && pwd)
[ -x "$root/usr/bin/make" ] || debootstrap --variant=minbase --include=python3,git,make bookworm "$root"
cp /etc/resolv.conf "$root/etc/resolv.conf"
ca=/etc/ssl/certs/ca-certificates.crt
[ -f "$ca" ] && install -D -m 644 "$ca" "$root/etc/lent-ca.crt" # beside: installing certificates rewrites the usual file
release() { # whatever happens: who removes a root with these still bound would remove the machine's own devices
  for bound in proc dev sys; do mountpoint -q "$root/$bound" && umount -R -l "$root/$bound"; done
  return 0
}
trap release EXIT
for bound in proc dev sys; do
  mountpoint -q "$root/$bound" || mount --rbind "/$bound" "$root/$bound"
  mount --make-rslave "$root/$bound" # or letting go of one would let go of the machine's own
done
lent=$(env | grep -E '^(PIP_INDEX|PIP_EXTRA|PIP_DEFAULT|https?_proxy|HTTPS?_PROXY)' || true)
[ -f "$root/etc/lent-ca.crt" ] && lent="$lent PIP_CERT=/etc/lent-ca.crt SSL_CERT_FILE=/etc/lent-ca.crt"
inside() { # inside USER COMMAND
  env -i $lent HOME="/home/$1" USER="$1" PATH=/usr/sbin:/usr/bin:/sbin:/bin chroot --userspec="$1" "$root" /bin/bash -c "$2"
}
home=/home/$who
if [ "$who" = user ]; then
  chroot "$root" id user >/dev/null 2>&1 || chroot "$root" useradd -m user
fi
mkdir -p "$root$home"
rm -rf "$root$home/nonna" "$root$home/empty"
git clone -q "$here" "$root$home/nonna"
chroot "$root" chown -R "$who" "$home"
if [ "$who" = user ]; then
  line=$(inside user "cd ~/nonna && make -s debs" | grep -o 'apt-get install.*' || true)
  echo "printed: ${line:-nothing is missing}"
  [ -z "$line" ] || env -i $lent PATH=/usr/sbin:/usr/bin:/sbin:/bin chroot "$root" /bin/bash -c \
    "apt-get update -q >/dev/null && DEBIAN_FRONTEND=noninteractive $line -y -q --no-install-recommends >/dev/null"
fi
for target in demo test; do
  begun=$SECONDS
  inside "$who" "cd ~/nonna && make $target" || { echo "make $target as $who: FAILED"; exit 1; }
  echo "make $target as $who: passed in $((SECONDS - begun)) s"
done
inside "$who" "ls ~/nonna/demo-output | wc -l"
