package leanladder.reach;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntFunction;
import leanladder.catalogue.AppVersion;
import leanladder.catalogue.Need;
import leanladder.estate.Account;
import leanladder.estate.Device;
import org.roaringbitmap.RoaringBitmap;

/**
 * Who has which kinds of device, with which version of which app: one set for each of them. There are a few hundred, however many
 * accounts. Not changed once made.
 */
public final class DeviceIndex {
    /** A device of a kind; with an app in a version, or whatever is on it. */
    private record Key(String kind, Optional<String> app, Optional<AppVersion> version) {}

    private final Map<Key, RoaringBitmap> having;

    private DeviceIndex(Map<Key, RoaringBitmap> having) {
        this.having = having;
    }

    /** Of some accounts. Linear in their devices and the apps on them. */
    static DeviceIndex compute(RoaringBitmap some, IntFunction<Account> accounts) {
        Map<Key, RoaringBitmap> having = new HashMap<>();
        some.forEach((int n) -> {
            for (Device device : accounts.apply(n).devices()) {
                add(having, new Key(device.kind(), Optional.empty(), Optional.empty()), n);
                device.apps()
                        .forEach((app, version) ->
                                add(having, new Key(device.kind(), Optional.of(app), Optional.of(version)), n));
            }
        });
        return new DeviceIndex(having);
    }

    private static void add(Map<Key, RoaringBitmap> having, Key key, int account) {
        having.computeIfAbsent(key, k -> new RoaringBitmap()).add(account);
    }

    /**
     * The same where some accounts have other devices. Costs a copy of the sets in which they stand or stood.
     *
     * @param everyone the accounts that there are; the others have none
     */
    DeviceIndex patched(RoaringBitmap some, RoaringBitmap everyone, IntFunction<Account> accounts) {
        if (some.isEmpty()) return this;
        Map<Key, RoaringBitmap> patched = new HashMap<>(having);
        patched.replaceAll((key, set) -> RoaringBitmap.intersects(set, some) ? RoaringBitmap.andNot(set, some) : set);
        patched.values().removeIf(RoaringBitmap::isEmpty);
        compute(RoaringBitmap.and(some, everyone), accounts)
                .having
                .forEach((key, set) -> patched.merge(key, set, (a, b) -> RoaringBitmap.or(a, b)));
        return new DeviceIndex(patched);
    }

    /** Everyone who has a device that meets a need (resolution.md, section 5). A fresh set. */
    public RoaringBitmap having(Need.Device need) {
        RoaringBitmap met = new RoaringBitmap();
        having.forEach((key, accounts) -> {
            boolean kindFits = need.kinds().isEmpty() || need.kinds().contains(key.kind());
            boolean appFits = need.app().equals(key.app());
            boolean versionFits = need.atLeast().isEmpty()
                    || key.version()
                            .filter(v -> v.compareTo(need.atLeast().get()) >= 0)
                            .isPresent();
            if (kindFits && appFits && versionFits) met.or(accounts);
        });
        return met;
    }

    /** The kinds of device in use, sorted. */
    public List<String> kinds() {
        return having.keySet().stream().map(Key::kind).distinct().sorted().toList();
    }
}
