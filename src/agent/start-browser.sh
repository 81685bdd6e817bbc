#!/bin/sh
# Starts a browser that stands back from its first moment: starting is most of what a short case costs, and
# to lower the priority afterwards leaves out the threads that are there by then.
# OAK_BROWSER_PROGRAM: path of the browser. OAK_BROWSER_NICE: the niceness of the session it leads.
# OAK_BROWSER_BEHIND: how far it stands behind the process that starts it.
{ echo "$OAK_BROWSER_NICE" > /proc/self/autogroup; } 2>/dev/null
exec nice -n "$OAK_BROWSER_BEHIND" "$OAK_BROWSER_PROGRAM" "$@"
