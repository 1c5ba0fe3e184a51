package leanladder.reach;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import leanladder.catalogue.AccountKind;
import leanladder.catalogue.Topology;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.InternedIds;
import leanladder.estate.Members;
import leanladder.estate.Target;
import leanladder.json.CodePointOrder;
import leanladder.json.PersistentList;
import leanladder.rule.GroupRule;
import org.jspecify.annotations.Nullable;
import org.roaringbitmap.RoaringBitmap;

/**
 * The accounts, units and groups of an estate, compiled for sets. Accounts are numbered in preorder of the unit tree, by id
 * within a unit, so that a unit with everything below it is one range of numbers and any set of accounts a compressed
 * bitmap. When the directory is edited numbers stay put: who moves keeps the number, who is new gets the next one and who is
 * gone keeps it unused, so that sets from before and after can be compared.
 */
public final class Directory {
    /** When this part of all accounts was edited since they were ranked by name, they are ranked anew. */
    private static final int LOOSE_NAMES = 20;

    /** A group of this part of all accounts is numbered by the table in which its ids stand. */
    private static final int FEW = 100;

    private static final int BLOCK = 4096;

    private static final Comparator<Account> BY_START = Comparator.<Account, LocalDate>comparing(
                    a -> a.started().orElse(null), Comparator.nullsLast(Comparator.naturalOrder()))
            .thenComparing(Account::id, CodePointOrder.TEXTS);

    private final UnitTree tree;
    private final PersistentList<Account> accounts;
    private final Map<String, Integer> numbers;
    private final Map<String, Integer> laterNumbers = new HashMap<>();
    private final Map<String, RoaringBitmap> directlyIn = new HashMap<>();
    private final Map<String, RoaringBitmap> inOrBelow = new HashMap<>();
    private final RoaringBitmap active;
    private final RoaringBitmap consenting;
    private final RoaringBitmap asked;
    private final Map<AccountKind, RoaringBitmap> kinds = new EnumMap<>(AccountKind.class);
    private final Map<String, Group> groups;
    private final Map<String, RoaringBitmap> direct;
    private final Map<String, RoaringBitmap> members;
    /** Of the groups that have a rule, whom it fits. */
    private final Map<String, RoaringBitmap> fitting;
    /** The groups that have a rule, or other groups in them; each after those that it is worked out from. */
    private final List<String> composite;

    private final List<Group> byRule;
    /** For each number of an account the stretch of {@link #groupsAt} that holds the positions of its groups in {@link #groupIds}. */
    private final int[] groupsFrom;

    private final PackedIntArray groupsAt;
    private final List<String> groupIds;
    /** The last order by start that was worked out, and whose start is another since, or who came or went; likewise by name. */
    private final Optional<int[]> startsBefore;

    private final Set<String> otherStarts;
    private final Optional<NameIndex> namesBefore;
    private final Set<String> otherNames;
    private volatile @Nullable DeviceIndex deviceIndex;
    private int @Nullable [] byStart;
    private int @Nullable [] startRank;
    private @Nullable NameIndex names;
    private final Map<String, List<String>> laterGroupsOfAccount = new HashMap<>();
    private final Map<String, List<String>> groupsOfGroup;

    /** Compiles the directory of an estate. Linear in accounts and members, but for sorting. */
    public Directory(Estate estate) {
        startsBefore = Optional.empty();
        otherStarts = Set.of();
        namesBefore = Optional.empty();
        otherNames = Set.of();
        tree = new UnitTree(estate.units());
        List<Account> inPreorder = new ArrayList<>(estate.accounts());
        inPreorder.sort(Comparator.comparingInt(a -> tree.place(a.unit())));
        accounts = PersistentList.of(inPreorder);
        numbers = new HashMap<>(accounts.size() * 2);
        active = new RoaringBitmap();
        consenting = new RoaringBitmap();
        asked = new RoaringBitmap();
        int[] unitStart = new int[tree.preorder().size() + 1];
        for (AccountKind accountKind : AccountKind.values()) kinds.put(accountKind, new RoaringBitmap());
        for (int n = 0; n < accounts.size(); n++) {
            Account account = accounts.get(n);
            numbers.put(account.id(), n);
            unitStart[tree.place(account.unit()) + 1]++;
            Objects.requireNonNull(kinds.get(account.kind())).add(n);
            if (account.active()) active.add(n);
            if (!account.consents().isEmpty()) consenting.add(n);
            if (!account.asked().isEmpty()) asked.add(n);
        }
        for (int i = 0; i + 1 < unitStart.length; i++) unitStart[i + 1] += unitStart[i];
        for (String unit : tree.preorder()) {
            int place = tree.place(unit);
            directlyIn.put(unit, RoaringBitmap.bitmapOfRange(unitStart[place], unitStart[place + 1]));
            inOrBelow.put(unit, RoaringBitmap.bitmapOfRange(unitStart[place], unitStart[tree.end(unit)]));
        }
        // Those who are active, or of a kind, stay as plain bits: as thousands of short runs they would be smaller and
        // slower.
        direct = new HashMap<>();
        members = new HashMap<>();
        groups = new HashMap<>();
        groupsOfGroup = new HashMap<>();
        estate.groups().forEach(g -> groups.put(g.id(), g));
        groupIds = estate.groups().stream().map(Group::id).toList();
        Function<List<String>, int[]> places = numbersByPlace();
        List<RoaringBitmap> sets =
                estate.groups().parallelStream().map(g -> direct(g, places)).toList();
        for (int g = 0; g < sets.size(); g++) direct.put(groupIds.get(g), sets.get(g));
        groupsFrom = new int[accounts.size() + 1];
        inBlocks(sets, (g, n) -> groupsFrom[n + 1]++);
        for (int n = 0; n < accounts.size(); n++) groupsFrom[n + 1] += groupsFrom[n];
        groupsAt = new PackedIntArray(groupsFrom[accounts.size()], groupIds.size());
        int[] next = groupsFrom.clone();
        inBlocks(sets, (g, n) -> groupsAt.set(next[n]++, g));
        indexNesting();
        composite = composite();
        fitting = new HashMap<>();
        direct.forEach(members::put);
        byRule = byRule();
        RoaringBitmap everyone = everyone();
        composite.forEach(id -> compileMembers(id, everyone, everyone, Optional.empty()));
    }

    /** Takes a member of the set at a position of a list. */
    private interface Membership {
        void met(int set, int account);
    }

    /**
     * Goes over the members of all sets, those of one account after the other's neighbours: what is written for a block of accounts
     * stays in the machine's near memory meanwhile. An account's sets come in their order; different blocks at the same time.
     */
    private void inBlocks(List<RoaringBitmap> sets, Membership membership) {
        IntStream.range(0, (accounts.size() + BLOCK - 1) / BLOCK).parallel().forEach(block -> {
            for (int s = 0; s < sets.size(); s++) {
                int set = s;
                sets.get(s).forEachInRange(block * BLOCK, BLOCK, (int n) -> membership.met(set, n));
            }
        });
    }

    private Directory(
            Directory before, Estate after, Set<String> changedAccounts, boolean tree, Set<String> changedGroups) {
        // No directory is held on to: what was edited twice without being put in order counts as edited once.
        Set<String> starts = otherThan(before, after, changedAccounts, Account::started);
        boolean sameStarts = starts.isEmpty() && before.byStart != null;
        startsBefore = before.byStart != null ? Optional.of(before.byStart) : before.startsBefore;
        otherStarts = before.byStart != null ? starts : union(before.otherStarts, starts);
        byStart = sameStarts ? before.byStart : null;
        startRank = sameStarts ? before.startRank : null;
        Set<String> called = otherThan(before, after, changedAccounts, Account::displayName);
        namesBefore = before.names != null ? Optional.of(before.names) : before.namesBefore;
        otherNames = before.names != null ? called : union(before.otherNames, called);
        names = called.isEmpty() ? before.names : null;
        this.tree = tree ? new UnitTree(after.units()) : before.tree;
        this.numbers = before.numbers;
        groupsFrom = before.groupsFrom;
        groupsAt = before.groupsAt;
        groupIds = before.groupIds;
        laterNumbers.putAll(before.laterNumbers);
        laterGroupsOfAccount.putAll(before.laterGroupsOfAccount);
        directlyIn.putAll(before.directlyIn);
        active = changedAccounts.isEmpty() ? before.active : before.active.clone();
        consenting = changedAccounts.isEmpty() ? before.consenting : before.consenting.clone();
        asked = changedAccounts.isEmpty() ? before.asked : before.asked.clone();
        kinds.putAll(before.kinds);
        accounts = changedAccounts.isEmpty() ? before.accounts : patched(before, after, changedAccounts);
        inOrBelow.putAll(before.inOrBelow);
        DeviceIndex devicesBefore = before.deviceIndex;
        if (devicesBefore != null)
            deviceIndex =
                    devicesBefore.patched(withOtherDevices(before, after, changedAccounts), everyone(), accounts::get);
        if (tree || directlyIn.keySet().stream().anyMatch(u -> directlyIn.get(u) != before.directlyIn.get(u)))
            aggregateUnits();
        if (changedGroups.isEmpty()) {
            groups = before.groups;
            direct = before.direct;
            groupsOfGroup = before.groupsOfGroup;
            composite = before.composite;
            byRule = before.byRule;
        } else {
            groups = new HashMap<>();
            groupsOfGroup = new HashMap<>();
            after.groups().forEach(g -> groups.put(g.id(), g));
            direct = new HashMap<>(before.direct);
            compileListed(before, changedGroups);
            indexNesting();
            composite = composite();
            byRule = byRule();
        }
        if (changedGroups.isEmpty() && before.fitting.isEmpty()) {
            members = before.members;
            fitting = before.fitting;
            return;
        }
        members = new HashMap<>(before.members);
        fitting = new HashMap<>(before.fitting);
        updateMembers(before, changedAccounts, tree, changedGroups);
    }

    /** The numbers of those of the changed accounts that have other devices than before, those that are gone or new among them. */
    private RoaringBitmap withOtherDevices(Directory before, Estate after, Set<String> changed) {
        RoaringBitmap numbers = new RoaringBitmap();
        for (String id : otherThan(before, after, changed, Account::devices)) if (contains(id)) numbers.add(number(id));
        return numbers;
    }

    /** Who has which devices; gathered when first asked for, afterwards kept up by edits. */
    public DeviceIndex deviceIndex() {
        DeviceIndex known = deviceIndex;
        if (known == null) {
            known = DeviceIndex.compute(everyone(), accounts::get);
            deviceIndex = known;
        }
        return known;
    }

    private void compileListed(Directory before, Set<String> changedGroups) {
        Function<List<String>, int[]> places = numbersByPlace();
        for (String id : changedGroups) {
            RoaringBitmap was = direct.getOrDefault(id, new RoaringBitmap());
            if (groups.containsKey(id)) direct.put(id, direct(Objects.requireNonNull(groups.get(id)), places));
            else direct.remove(id);
            RoaringBitmap is = direct.getOrDefault(id, new RoaringBitmap());
            RoaringBitmap.xor(was, is).forEach((int n) -> {
                List<String> around = new ArrayList<>(groupsOf(accounts.get(n).id()));
                if (!around.remove(id)) around.add(id);
                laterGroupsOfAccount.put(accounts.get(n).id(), List.copyOf(around));
            });
        }
    }

    /**
     * Works out anew whom groups hold that were edited, that hold or ask for such a group, or whose rule an edited account may fit
     * otherwise than before. A rule that stays as it is is asked of those accounts alone for which something differs.
     */
    private void updateMembers(
            Directory before, Set<String> changedAccounts, boolean unitsChanged, Set<String> changedGroups) {
        RoaringBitmap edited = new RoaringBitmap();
        for (String id : changedAccounts) if (contains(id)) edited.add(number(id));
        RoaringBitmap everyone = everyone();
        Map<String, RoaringBitmap> otherwise = new HashMap<>();
        for (String id : changedGroups) {
            if (!groups.containsKey(id)) {
                members.remove(id);
                fitting.remove(id);
            } else if (!isComposite(groups.get(id))) {
                members.put(id, Objects.requireNonNull(direct.get(id)));
                fitting.remove(id);
            }
            note(otherwise, before, id);
        }
        for (String id : composite) {
            Group group = Objects.requireNonNull(groups.get(id));
            boolean sameRule = !changedGroups.contains(id)
                    || before.groups.containsKey(id)
                            && Objects.requireNonNull(before.groups.get(id))
                                    .rule()
                                    .equals(group.rule());
            boolean nested = group.members().groups().stream().anyMatch(otherwise::containsKey);
            RoaringBitmap asked = everyone;
            if (sameRule && group.rule().isPresent()) {
                boolean moved =
                        unitsChanged && group.rule().get().units().findAny().isPresent();
                if (!moved) {
                    asked = edited;
                    for (String other : group.rule().get().groupIds())
                        if (otherwise.containsKey(other)) asked = RoaringBitmap.or(asked, otherwise.get(other));
                }
            }
            boolean byRule = group.rule().isPresent() && !asked.isEmpty();
            if (!nested && !byRule && !changedGroups.contains(id)) continue;
            compileMembers(
                    id, asked, everyone, sameRule ? Optional.ofNullable(before.fitting.get(id)) : Optional.empty());
            note(otherwise, before, id);
        }
    }

    /** Notes who is in a group and was not, or was and is not; nothing where it holds whom it held. */
    private void note(Map<String, RoaringBitmap> otherwise, Directory before, String group) {
        RoaringBitmap was = before.members(group);
        RoaringBitmap is = members(group);
        if (was == is) return;
        RoaringBitmap differing = RoaringBitmap.xor(was, is);
        if (!differing.isEmpty()) otherwise.put(group, differing);
    }

    /**
     * The directory of an estate that differs from this one's in some accounts, units or groups. Costs what differs.
     *
     * @param changedAccounts ids of accounts that are new, gone or not the same
     * @param unitsChanged whether any unit is new, gone, or below another
     * @param changedGroups ids of groups that are new, gone or not the same
     */
    public Directory with(Estate after, Set<String> changedAccounts, boolean unitsChanged, Set<String> changedGroups) {
        return new Directory(this, after, changedAccounts, unitsChanged, changedGroups);
    }

    private PersistentList<Account> patched(Directory before, Estate after, Set<String> changed) {
        List<String> added = changed.stream()
                .filter(id -> after.account(id).isPresent() && !before.contains(id))
                .sorted(CodePointOrder.TEXTS)
                .toList();
        for (String id : added)
            laterNumbers.put(id, before.accounts.size() + laterNumbers.size() - before.laterNumbers.size());
        Map<Integer, Account> replaced = new HashMap<>();
        Set<AccountKind> ownKinds = EnumSet.noneOf(AccountKind.class);
        Set<String> ownUnits = new HashSet<>();
        for (String id : changed) {
            if (!contains(id)) continue;
            int n = number(id);
            // One that is gone keeps its number, and stands nowhere: should it come back, it is as good as new.
            Account was = n < before.accounts.size() && before.isPresent(n) ? before.accounts.get(n) : null;
            Optional<Account> is = after.account(id);
            boolean stands = is.isPresent()
                    && was != null
                    && is.get().kind() == was.kind()
                    && is.get().unit().equals(was.unit());
            if (was != null && !stands) {
                copyOnWrite(kinds, ownKinds, was.kind()).remove(n);
                copyOnWrite(directlyIn, ownUnits, was.unit()).remove(n);
            }
            active.remove(n);
            consenting.remove(n);
            asked.remove(n);
            if (n < before.accounts.size() && is.isPresent()) replaced.put(n, is.get());
            if (is.isEmpty()) continue;
            if (is.get().active()) active.add(n);
            if (!is.get().consents().isEmpty()) consenting.add(n);
            if (!is.get().asked().isEmpty()) asked.add(n);
            if (stands) continue;
            copyOnWrite(kinds, ownKinds, is.get().kind()).add(n);
            copyOnWrite(directlyIn, ownUnits, is.get().unit()).add(n);
        }
        return before.accounts.with(
                replaced,
                added.stream().map(id -> after.account(id).orElseThrow()).toList());
    }

    /** The set under a key, made this directory's own before it is changed for the first time. */
    private static <K> RoaringBitmap copyOnWrite(Map<K, RoaringBitmap> sets, Set<K> owned, K key) {
        if (!owned.add(key)) return Objects.requireNonNull(sets.get(key));
        RoaringBitmap own = sets.getOrDefault(key, new RoaringBitmap()).clone();
        sets.put(key, own);
        return own;
    }

    private void aggregateUnits() {
        List<String> preorder = tree.preorder();
        for (int i = preorder.size() - 1; i >= 0; i--) {
            String unit = preorder.get(i);
            RoaringBitmap all =
                    directlyIn.getOrDefault(unit, new RoaringBitmap()).clone();
            tree.children(unit).forEach(child -> all.or(inOrBelow.get(child.id())));
            inOrBelow.put(unit, all);
        }
        inOrBelow.keySet().retainAll(Set.copyOf(preorder));
    }

    private RoaringBitmap direct(Group group, Function<List<String>, int[]> places) {
        List<String> ids = group.members().accounts();
        int[] in = new int[ids.size()];
        // For few ids a whole table is not worth while.
        if (ids instanceof InternedIds placed
                && FEW * (long) ids.size() > placed.table().size()) {
            int[] numberOf = places.apply(placed.table());
            for (int i = 0; i < in.length; i++) in[i] = numberOf[placed.place(i)];
        } else for (int i = 0; i < in.length; i++) in[i] = number(ids.get(i));
        RoaringBitmap set = RoaringBitmap.bitmapOfUnordered(in);
        set.runOptimize();
        return set;
    }

    /** For a table of ids the number of the account at each place; worked out once for a table. */
    private Function<List<String>, int[]> numbersByPlace() {
        Map<List<String>, int[]> known = new IdentityHashMap<>();
        return table -> {
            synchronized (known) {
                return known.computeIfAbsent(
                        table, t -> t.stream().mapToInt(this::numberOrNone).toArray());
            }
        };
    }

    /** The number of an account; -1 where it is none, or none any more. */
    private int numberOrNone(String account) {
        Integer number = numbers.get(account);
        return number != null ? number : laterNumbers.getOrDefault(account, -1);
    }

    private void indexNesting() {
        for (Group group : groups.values())
            for (String inner : group.members().groups())
                groupsOfGroup.computeIfAbsent(inner, k -> new ArrayList<>(2)).add(group.id());
        groupsOfGroup.values().forEach(around -> around.sort(CodePointOrder.TEXTS));
    }

    private static boolean isComposite(Group group) {
        return group.rule().isPresent() || !group.members().groups().isEmpty();
    }

    /** The order has no cycle: the reader and the edits see to that. */
    private List<String> composite() {
        List<String> all = groups.values().stream()
                .filter(Directory::isComposite)
                .map(Group::id)
                .toList();
        return Topology.order(
                        all,
                        id -> Stream.concat(
                                        Objects.requireNonNull(groups.get(id)).members().groups().stream(),
                                        Objects.requireNonNull(groups.get(id)).rule().stream()
                                                .flatMap(rule -> rule.groupIds().stream()))
                                .filter(groups::containsKey)
                                .filter(other -> isComposite(groups.get(other)))
                                .toList())
                .sorted();
    }

    /**
     * Works out whom a group holds that has a rule or other groups in it.
     *
     * @param asked of whom its rule is asked
     * @param everyone all accounts that there are
     * @param before whom it fitted before; of those who are not asked it still does
     */
    private void compileMembers(
            String id, RoaringBitmap asked, RoaringBitmap everyone, Optional<RoaringBitmap> before) {
        Group group = Objects.requireNonNull(groups.get(id));
        RoaringBitmap in = Objects.requireNonNull(direct.get(id)).clone();
        if (group.rule().isPresent()) {
            RoaringBitmap fits = new RuleAudience(this, this::members)
                    .among(group.rule().get().root(), RoaringBitmap.and(asked, everyone));
            if (before.isPresent())
                fits = RoaringBitmap.and(before.get(), asked).equals(fits)
                        ? before.get()
                        : RoaringBitmap.or(RoaringBitmap.andNot(before.get(), asked), fits);
            fitting.put(id, fits);
            in.or(fits);
        } else fitting.remove(id);
        group.members().groups().forEach(inner -> in.or(members.get(inner)));
        RoaringBitmap known = members.get(id);
        if (in.equals(known)) return;
        in.runOptimize();
        members.put(id, in);
    }

    /** All accounts that there are, inactive ones too. */
    private RoaringBitmap everyone() {
        return ofKinds(EnumSet.allOf(AccountKind.class));
    }

    /** The groups that have a rule, each after those for which it asks. */
    List<Group> groupsByRule() {
        return byRule;
    }

    private List<Group> byRule() {
        return composite.stream()
                .map(this::group)
                .filter(g -> g.rule().isPresent())
                .toList();
    }

    /** Whom a rule fits whose units and groups exist, inactive accounts too. A fresh set. Linear in the accounts where it compares texts. */
    public RoaringBitmap fitting(GroupRule rule) {
        return new RuleAudience(this, this::members).among(rule.root(), everyone());
    }

    /** Whom the rule of a group fits, inactive ones too; nobody where it has none. Not to be changed. */
    public RoaringBitmap fitting(String group) {
        return fitting.getOrDefault(group, new RoaringBitmap());
    }

    public UnitTree tree() {
        return tree;
    }

    /** How many accounts there are, inactive ones too; their numbers go from 0 to one less. */
    public int size() {
        return accounts.size();
    }

    public Account account(int number) {
        return accounts.get(number);
    }

    /** The number of an account that exists. */
    public int number(String account) {
        Integer number = numbers.get(account);
        return number != null ? number : Objects.requireNonNull(laterNumbers.get(account));
    }

    /** The number of an account; empty where there is none of this id. */
    public Optional<Integer> find(String account) {
        return contains(account) ? Optional.of(number(account)) : Optional.empty();
    }

    private boolean isPresent(int number) {
        return Objects.requireNonNull(kinds.get(accounts.get(number).kind())).contains(number);
    }

    private boolean contains(String account) {
        return numbers.containsKey(account) || laterNumbers.containsKey(account);
    }

    /** All active accounts. Not to be changed, like every set handed out here. */
    public RoaringBitmap active() {
        return active;
    }

    /** Everyone who was ever asked to join a preview. Not to be changed. */
    public RoaringBitmap asked() {
        return asked;
    }

    /** Everyone who has given some consent. */
    public RoaringBitmap consenting() {
        return consenting;
    }

    /** All accounts of some kinds, inactive ones too. A fresh set. */
    public RoaringBitmap ofKinds(Iterable<AccountKind> some) {
        RoaringBitmap all = new RoaringBitmap();
        for (AccountKind accountKind : some) all.or(kinds.get(accountKind));
        return all;
    }

    /** All accounts of a kind. */
    public RoaringBitmap ofKind(AccountKind accountKind) {
        return Objects.requireNonNull(kinds.get(accountKind));
    }

    public Group group(String id) {
        return Objects.requireNonNull(groups.get(id));
    }

    /** Everyone in a group, to any depth; nobody where there is no such group. */
    public RoaringBitmap members(String group) {
        return members.getOrDefault(group, new RoaringBitmap());
    }

    /**
     * All numbers by the start of their accounts, those without one last, and by id where starts are the same. Sorted when first
     * asked for; after an edit only what was edited is put in its place. Not to be changed.
     */
    public synchronized int[] byStart() {
        if (byStart == null) byStart = startsBefore.map(this::merged).orElseGet(this::sortedByStart);
        return byStart;
    }

    /** For each number its place in {@link #byStart()}. Not to be changed. */
    public synchronized int[] startRank() {
        if (startRank == null) {
            int[] order = byStart();
            int[] rank = new int[accounts.size()];
            for (int i = 0; i < order.length; i++) rank[order[i]] = i;
            startRank = rank;
        }
        return startRank;
    }

    /**
     * These accounts by display name, then by id. The order of all is worked out when first asked for many; after an edit only what
     * was edited is put in its place.
     */
    public List<Account> byName(RoaringBitmap which) {
        return NameIndex.areFew(which) ? NameIndex.orderFew(accounts, which) : names().order(accounts, which);
    }

    private synchronized NameIndex names() {
        if (names == null) names = namesBefore.map(this::namesAfter).orElseGet(() -> NameIndex.compute(accounts));
        return names;
    }

    private NameIndex namesAfter(NameIndex before) {
        RoaringBitmap moved = new RoaringBitmap();
        for (String id : otherNames) if (contains(id)) moved.add(number(id));
        NameIndex order = before.without(moved);
        return order.displaced() > accounts.size() / LOOSE_NAMES ? NameIndex.compute(accounts) : order;
    }

    /** Those of the changed accounts that are new, or gone, or of whom this is otherwise than before. */
    private static Set<String> otherThan(
            Directory before, Estate after, Set<String> changed, Function<Account, Object> what) {
        Set<String> other = new HashSet<>();
        for (String id : changed) {
            Optional<Account> is = after.account(id);
            boolean same = is.isPresent()
                    && before.contains(id)
                    && before.isPresent(before.number(id))
                    && what.apply(before.accounts.get(before.number(id))).equals(what.apply(is.get()));
            if (!same) other.add(id);
        }
        return other;
    }

    private static Set<String> union(Set<String> some, Set<String> more) {
        Set<String> all = new HashSet<>(some);
        all.addAll(more);
        return all;
    }

    private int[] sortedByStart() {
        Account[] sorted = accounts.stream().filter(Objects::nonNull).toArray(Account[]::new);
        Arrays.parallelSort(sorted, BY_START);
        return Arrays.stream(sorted).mapToInt(a -> number(a.id())).toArray();
    }

    private int[] merged(int[] before) {
        Set<Integer> moved = new HashSet<>();
        for (String id : otherStarts) if (contains(id)) moved.add(number(id));
        Integer[] placed = moved.toArray(Integer[]::new);
        Arrays.sort(placed, Comparator.comparing((Integer n) -> accounts.get(n), BY_START));
        int[] all = new int[accounts.size()];
        int next = 0;
        int to = 0;
        for (int n : before) {
            if (moved.contains(n)) continue;
            while (next < placed.length && BY_START.compare(accounts.get(placed[next]), accounts.get(n)) < 0)
                all[to++] = placed[next++];
            all[to++] = n;
        }
        while (next < placed.length) all[to++] = placed[next++];
        return Arrays.copyOf(all, to);
    }

    /** The groups that list the account itself. */
    public List<String> groupsOf(String account) {
        List<String> later = laterGroupsOfAccount.get(account);
        if (later != null) return later;
        Integer number = numbers.get(account);
        if (number == null) return List.of();
        List<String> around = new ArrayList<>(groupsFrom[number + 1] - groupsFrom[number]);
        for (int i = groupsFrom[number]; i < groupsFrom[number + 1]; i++) around.add(groupIds.get(groupsAt.get(i)));
        return around;
    }

    /** The groups that list the group itself. */
    public List<String> groupsAround(String group) {
        return groupsOfGroup.getOrDefault(group, List.of());
    }

    /** Everyone in the unit or below it, inactive ones too; nobody where there is no such unit. */
    public RoaringBitmap inOrBelow(String unit) {
        return inOrBelow.getOrDefault(unit, new RoaringBitmap());
    }

    /** Everyone in the unit itself. */
    public RoaringBitmap directlyIn(String unit) {
        return directlyIn.getOrDefault(unit, new RoaringBitmap());
    }

    /** The accounts that the group lists itself, without those of groups in it; nobody where there is no such group. */
    public RoaringBitmap listedIn(String group) {
        return direct.getOrDefault(group, new RoaringBitmap());
    }

    /** Whether a group lists an account itself; an account or group that is not known is in none. */
    public boolean isListedIn(String group, String account) {
        return listedIn(group).contains(numberOrNone(account));
    }

    /**
     * Whether a target holds the account of this number. A workspace holds nobody, and neither does what does not exist: an
     * estate before edits is asked about what they create.
     */
    public boolean holds(Target target, int number) {
        if (target instanceof Target.OrganisationTarget) return true;
        if (target instanceof Target.UnitTarget unit)
            return inOrBelow(unit.id()).contains(number);
        if (target instanceof Target.GroupTarget group)
            return members(group.id()).contains(number);
        return target instanceof Target.AccountTarget account && numberOrNone(account.id()) == number;
    }

    /** Everyone whom a target holds, inactive ones too; nobody for a workspace, or for what does not exist. A fresh set. */
    public RoaringBitmap holding(Target target) {
        if (target instanceof Target.OrganisationTarget)
            return inOrBelow(tree.root()).clone();
        if (target instanceof Target.UnitTarget unit)
            return inOrBelow(unit.id()).clone();
        if (target instanceof Target.GroupTarget group)
            return members(group.id()).clone();
        RoaringBitmap one = new RoaringBitmap();
        if (target instanceof Target.AccountTarget account && numberOrNone(account.id()) >= 0)
            one.add(numberOrNone(account.id()));
        return one;
    }

    /** Everyone listed as a member, by name or through groups, inactive ones too. A fresh set. */
    public RoaringBitmap holding(Members listed) {
        RoaringBitmap holding = new RoaringBitmap();
        listed.accounts().forEach(a -> holding.add(number(a)));
        listed.groups().forEach(g -> holding.or(members(g)));
        return holding;
    }
}
