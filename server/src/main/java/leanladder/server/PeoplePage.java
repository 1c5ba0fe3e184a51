package leanladder.server;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import leanladder.estate.Account;
import leanladder.reach.Directory;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which of many accounts are asked for.
 *
 * @param limit at most so many
 * @param after the account after which the page starts
 * @param effect only those whom a ripple touches so: gain, lose, both or other
 */
record PeoplePage(int limit, Optional<String> after, Optional<String> effect) {
    private static final int SHOWN = 200;
    private static final int MOST = 5000;

    static PeoplePage of(Query query) {
        return new PeoplePage(query.number("limit", SHOWN, MOST), query.one("after"), query.one("effect"));
    }

    /** A further column of the comma-separated values. */
    record Extra(String heading, Function<Account, String> of) {}

    /** Answers with a page of accounts by name, or with all of them as comma-separated values. */
    static void answer(Context ctx, Query query, Directory directory, RoaringBitmap which, Extra... extras) {
        List<Account> accounts = directory.byName(which);
        if (query.isCsv()) {
            List<Extra> columns = new ArrayList<>(List.of(
                    new Extra("name", Account::displayName),
                    new Extra("address", Account::userName),
                    new Extra("unit", a -> RippleTelling.place(directory.tree().path(a.unit())))));
            columns.addAll(List.of(extras));
            Csv csv = new Csv(
                    ctx, "accounts.csv", columns.stream().map(Extra::heading).toArray(String[]::new));
            for (Account a : accounts)
                csv.line(columns.stream().map(c -> c.of.apply(a)).toArray(String[]::new));
            csv.end();
            return;
        }
        PeoplePage page = of(query);
        ObjectNode told = Answers.object().put("accounts", accounts.size());
        ArrayNode people = told.putArray("people");
        for (Account a : page.of(accounts))
            people.addObject()
                    .put("account", a.id())
                    .put("displayName", a.displayName())
                    .put("unit", RippleTelling.place(directory.tree().path(a.unit())));
        told.put("next", page.next(accounts).orElse(null));
        Answers.json(ctx, told);
    }

    /** The page of these accounts. */
    List<Account> of(List<Account> accounts) {
        int from = from(accounts);
        return accounts.subList(from, Math.min(accounts.size(), from + limit));
    }

    /** The account after which the next page starts; empty when this is the last. */
    Optional<String> next(List<Account> accounts) {
        int end = from(accounts) + limit;
        return end < accounts.size() ? Optional.of(accounts.get(end - 1).id()) : Optional.empty();
    }

    private int from(List<Account> accounts) {
        if (after.isEmpty()) return 0;
        for (int i = 0; i < accounts.size(); i++) if (accounts.get(i).id().equals(after.get())) return i + 1;
        throw Problem.wrongInput("The parameter \"after\" names no account of this list.");
    }
}
