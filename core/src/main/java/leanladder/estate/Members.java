package leanladder.estate;

import java.util.List;

/** Who is directly in a group or a workspace: ids of accounts and ids of groups. */
public record Members(List<String> accounts, List<String> groups) {}
