package leanladder.server.paging;

import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import leanladder.estate.Account;
import leanladder.estate.Unit;
import leanladder.reach.Directory;
import leanladder.server.http.CsvResponse;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which of many accounts are asked for.
 *
 * @param limit at most so many
 * @param after the account after which the page starts
 */
public record AccountPage(int limit, Optional<String> after) {
    private static final int SHOWN = 200;
    private static final int MOST = 5000;

    /** A page of accounts by name. @param accounts how many there are in all @param next to be sent as after; null on the last page */
    public record PeopleList(int accounts, List<Person> people, Optional<String> next) {}

    /** An account in a list. @param unit with the one above it */
    public record Person(String account, String displayName, String unit) {
        /** An account as lists name it. */
        public static Person of(Account account, Directory directory) {
            return new Person(account.id(), account.displayName(), place(directory, account.unit()));
        }
    }

    /** A further column of the comma-separated values. */
    public record Extra(String heading, Function<Account, String> of) {}

    /** The page that the parameters {@code limit} and {@code after} ask for. */
    public static AccountPage parse(QueryParameters queryParameters) {
        return new AccountPage(queryParameters.number("limit", SHOWN, MOST), queryParameters.one("after"));
    }

    /** A page of accounts by name, or all of them as comma-separated values, as the parameters ask for. */
    public static Object answer(
            QueryParameters queryParameters, Directory directory, RoaringBitmap which, Extra... extras) {
        List<Account> accounts = directory.byName(which);
        if (queryParameters.isCsv()) return csv(accounts, directory, extras);
        AccountPage page = parse(queryParameters);
        return new PeopleList(
                accounts.size(),
                page.parse(accounts).stream().map(a -> Person.of(a, directory)).toList(),
                page.next(accounts));
    }

    /** Accounts as comma-separated values. */
    public static CsvResponse csv(List<Account> accounts, Directory directory, Extra... extras) {
        List<Extra> columns = new ArrayList<>(List.of(
                new Extra("name", Account::displayName),
                new Extra("address", Account::userName),
                new Extra("unit", a -> place(directory, a.unit()))));
        columns.addAll(List.of(extras));
        return new CsvResponse(
                "accounts.csv",
                columns.stream().map(Extra::heading).toList(),
                lines(accounts, a -> columns.stream().map(c -> c.of.apply(a)).toList()));
    }

    /** Lines that are made one by one while they are written. */
    public static <T> Iterable<List<String>> lines(List<T> rows, Function<T, List<String>> line) {
        return () -> {
            Iterator<T> each = rows.iterator();
            return new Iterator<>() {
                @Override
                public boolean hasNext() {
                    return each.hasNext();
                }

                @Override
                public List<String> next() {
                    return line.apply(each.next());
                }
            };
        };
    }

    /** The unit with the one above it, for units of one name are many; the organisation goes without saying. */
    public static String place(Directory directory, String unit) {
        List<Unit> path = directory.tree().path(unit);
        return path.stream()
                .skip(path.size() == 1 ? 0 : Math.max(1, path.size() - 2))
                .map(Unit::name)
                .collect(Collectors.joining(" › "));
    }

    /** The page of these accounts. */
    public List<Account> parse(List<Account> accounts) {
        int from = from(accounts);
        return accounts.subList(from, Math.min(accounts.size(), from + limit));
    }

    /** The account after which the next page starts; empty when this is the last. */
    public Optional<String> next(List<Account> accounts) {
        int end = from(accounts) + limit;
        return end < accounts.size() ? Optional.of(accounts.get(end - 1).id()) : Optional.empty();
    }

    private int from(List<Account> accounts) {
        if (after.isEmpty()) return 0;
        for (int i = 0; i < accounts.size(); i++) if (accounts.get(i).id().equals(after.get())) return i + 1;
        throw ProblemException.wrongInput("The parameter \"after\" names no account of this list.");
    }
}
