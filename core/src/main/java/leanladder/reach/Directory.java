package leanladder.reach;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import leanladder.catalogue.Kind;
import leanladder.catalogue.Topology;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Target;
import org.roaringbitmap.RoaringBitmap;

/**
 * The accounts, units and groups of an estate, compiled for sets. Accounts are numbered in preorder of the unit tree, by id
 * within a unit, so that a unit with everything below it is one range of numbers and any set of accounts a compressed
 * bitmap.
 */
public final class Directory {
    private final UnitTree tree;
    private final Account[] accounts;
    private final Map<String, Integer> numbers;
    private final int[] unitStart;
    private final RoaringBitmap active = new RoaringBitmap();
    private final Map<Kind, RoaringBitmap> kinds = new EnumMap<>(Kind.class);
    private final Map<String, Group> groups = new HashMap<>();
    private final Map<String, RoaringBitmap> members = new HashMap<>();
    private final Map<String, List<String>> groupsOfAccount = new HashMap<>();
    private final Map<String, List<String>> groupsOfGroup = new HashMap<>();

    /** Compiles the directory of an estate. Linear in accounts and members, but for sorting. */
    public Directory(Estate estate) {
        tree = new UnitTree(estate.units());
        accounts = estate.accounts().toArray(Account[]::new);
        java.util.Arrays.sort(accounts, Comparator.comparingInt(a -> tree.place(a.unit())));
        numbers = new HashMap<>(accounts.length * 2);
        unitStart = new int[tree.preorder().size() + 1];
        for (Kind kind : Kind.values()) kinds.put(kind, new RoaringBitmap());
        for (int n = 0; n < accounts.length; n++) {
            Account account = accounts[n];
            numbers.put(account.id(), n);
            unitStart[tree.place(account.unit()) + 1]++;
            kinds.get(account.kind()).add(n);
            if (account.active()) active.add(n);
        }
        for (int i = 0; i + 1 < unitStart.length; i++) unitStart[i + 1] += unitStart[i];
        compileGroups(estate.groups());
        active.runOptimize();
        kinds.values().forEach(RoaringBitmap::runOptimize);
    }

    private void compileGroups(List<Group> all) {
        all.forEach(g -> groups.put(g.id(), g));
        Topology order = Topology.order(
                all.stream().map(Group::id).toList(),
                id -> groups.get(id).members().groups());
        for (String id : order.sorted()) {
            Group group = groups.get(id);
            int[] direct =
                    group.members().accounts().stream().mapToInt(numbers::get).toArray();
            RoaringBitmap in = RoaringBitmap.bitmapOfUnordered(direct);
            for (String account : group.members().accounts())
                groupsOfAccount
                        .computeIfAbsent(account, k -> new ArrayList<>(2))
                        .add(id);
            for (String inner : group.members().groups()) {
                in.or(members.get(inner));
                groupsOfGroup.computeIfAbsent(inner, k -> new ArrayList<>(2)).add(id);
            }
            in.runOptimize();
            members.put(id, in);
        }
    }

    public UnitTree tree() {
        return tree;
    }

    /** How many accounts there are, inactive ones too; their numbers go from 0 to one less. */
    public int size() {
        return accounts.length;
    }

    public Account account(int number) {
        return accounts[number];
    }

    /** The number of an account that exists. */
    public int number(String account) {
        return numbers.get(account);
    }

    /** All active accounts. Not to be changed, like every set handed out here. */
    public RoaringBitmap active() {
        return active;
    }

    /** All accounts of a kind. */
    public RoaringBitmap ofKind(Kind kind) {
        return kinds.get(kind);
    }

    public Group group(String id) {
        return groups.get(id);
    }

    /** Everyone in a group, to any depth. */
    public RoaringBitmap members(String group) {
        return members.get(group);
    }

    /** The groups that list the account itself. */
    public List<String> groupsOf(String account) {
        return groupsOfAccount.getOrDefault(account, List.of());
    }

    /** The groups that list the group itself. */
    public List<String> groupsAround(String group) {
        return groupsOfGroup.getOrDefault(group, List.of());
    }

    /** The lowest number of an account in the unit or below it. */
    public int first(String unit) {
        return unitStart[tree.place(unit)];
    }

    /** The number after the last account in the unit or below it. */
    public int end(String unit) {
        return unitStart[tree.end(unit)];
    }

    /** Everyone whom a target holds, inactive ones too; nobody for a workspace. A fresh set. */
    public RoaringBitmap holding(Target target) {
        if (target instanceof Target.Whole) return RoaringBitmap.bitmapOfRange(0, accounts.length);
        if (target instanceof Target.OfUnit unit) return RoaringBitmap.bitmapOfRange(first(unit.id()), end(unit.id()));
        if (target instanceof Target.OfGroup group) return members(group.id()).clone();
        if (target instanceof Target.OfAccount account) return RoaringBitmap.bitmapOf(number(account.id()));
        return new RoaringBitmap();
    }
}
